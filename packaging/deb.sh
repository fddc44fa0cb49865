#!/usr/bin/env bash
# Builds a Debian package with an environment of its own inside, for the Debian it is built on.
#
#   deb.sh FOLDER [PYTHON]      writes FOLDER/plectrum_VERSION_ARCH.deb; the system's Python by default
set -Eeuo pipefail
cd "$(dirname "$0")/.."
into=$(realpath -m "${1:-dist}")
python=${2:-/usr/bin/python3}
home=/usr/lib/plectrum

say() { echo "deb: $*"; }
stop() { echo "deb: $*" >&2; exit 1; }
command -v dpkg-deb >/dev/null || stop "dpkg-deb is missing: this is for Debian and its kin"
"$python" -I -c 'import ensurepip, venv' 2>/dev/null || stop "please install python3-venv"
version=$("$python" -I -c 'import tomllib; print(tomllib.load(open("pyproject.toml", "rb"))["project"]["version"])')
arch=$(dpkg --print-architecture)
minor=$("$python" -I -c 'import sys; print(sys.version_info[1])')

stage=$(mktemp -d)
trap 'rm -rf "$stage"' EXIT
root=$stage/plectrum
mkdir -p "$root$home"
say "1 of 4: its environment"
"$python" -I -m venv "$root$home"
pip() { "$root$home/bin/python" -I -m pip --disable-pip-version-check --no-input -q "$@"; }
pip install --require-hashes -r requirements/runtime.txt
bash scripts/build.sh "$root$home/bin/python" install -q
"$python" -I scripts/prune.py "$root$home" | sed 's/^/deb: /'

say "2 of 4: manual and completion"
"$root$home/bin/python" -I scripts/run.py scripts.manual "$stage/manual"
install -D -m 644 "$stage/manual/plectrum.1" "$root/usr/share/man/man1/plectrum.1"
gzip -9n "$root/usr/share/man/man1/plectrum.1"
install -D -m 644 "$stage/manual/plectrum.bash" "$root/usr/share/bash-completion/completions/plectrum"
install -D -m 644 "$stage/manual/_plectrum" "$root/usr/share/zsh/vendor-completions/_plectrum"
install -D -m 644 "$stage/manual/plectrum.fish" "$root/usr/share/fish/vendor_completions.d/plectrum.fish"

say "3 of 4: icons, file types, desktop entry"
QT_QPA_PLATFORM=offscreen "$root$home/bin/python" -I scripts/run.py scripts.icons "$root/usr/share/icons/hicolor"
install -D -m 644 packaging/plectrum.desktop "$root/usr/share/applications/plectrum.desktop"
install -D -m 644 packaging/plectrum-mime.xml "$root/usr/share/mime/packages/plectrum.xml"
install -D -m 644 packaging/org.plectrum.Plectrum.metainfo.xml \
    "$root/usr/share/metainfo/org.plectrum.Plectrum.metainfo.xml"
doc=$root/usr/share/doc/plectrum
mkdir -p "$doc/screenshots"
for picture in bowing ensemble show handout; do
    install -m 644 "docs/screenshots/$picture.png" "$doc/screenshots/"
done
install -m 644 LICENSE "$doc/copyright"
cat NOTICES.md >> "$doc/copyright"
gzip -9nc CHANGELOG.md > "$doc/changelog.gz"

# The environment is used where the package puts it: nothing in it may name the place it was made in.
"$root$home/bin/python" -I -m pip uninstall -q -y pip >/dev/null
find "$root$home/bin" -type f -delete
rm -f "$root$home/.gitignore" "$root$home/lib64"
find "$root$home" -name direct_url.json -delete
printf 'home = %s\ninclude-system-site-packages = false\nversion = 3.%s\n' \
    "$(dirname "$(realpath "$python")")" "$minor" > "$root$home/pyvenv.cfg"
ln -sf "$(realpath "$python")" "$root$home/bin/python"
ln -sf python "$root$home/bin/python3"
find "$root$home" -name __pycache__ -prune -exec rm -rf {} +
"$python" -I -m compileall -q -s "$root" -p / "$root$home/lib" || true
mkdir -p "$root/usr/bin"
printf '#!/bin/sh\nexec %s/bin/python -I -m plectrum "$@"\n' "$home" > "$root/usr/bin/plectrum"
printf '#!/bin/sh\nexec %s/bin/python -I -m plectrum open "$@"\n' "$home" > "$root/usr/bin/plectrum-window"
chmod 755 "$root/usr/bin/plectrum" "$root/usr/bin/plectrum-window"

say "4 of 4: the package"
mkdir -p "$root/DEBIAN"
libraries=$(grep -v '^#' requirements/apt.txt | while read -r library _; do
    found=$(/sbin/ldconfig -p | awk -v name="$library" '$1 == name { print $NF; exit }')
    dpkg-query -S "$found" "/usr$found" 2>/dev/null | cut -d: -f1 | head -1 || true  # as it is called here
done | sort -u | tr '\n' ',' | sed 's/,$//; s/,/, /g')
cat > "$root/DEBIAN/control" <<END
Package: plectrum
Version: $version
Architecture: $arch
Maintainer: The Plectrum developers <plectrum@localhost>
Installed-Size: $(du -sk "$root/usr" | cut -f1)
Depends: python3 (>= 3.$minor), python3 (<< 3.$((minor + 1))), $libraries
Recommends: fonts-dejavu-core, shared-mime-info, desktop-file-utils
Section: education
Priority: optional
Description: plans the bow for string students, note by note
 Open a tune for violin, viola, cello or double bass: from rhythm, tempo, metre and
 dynamics it works out which way the bow goes on every note, how each note joins the one
 before, and how much bow it takes, for the player in front of you.
END
(cd "$root" && find usr -type f -print0 | sort -z | xargs -0 md5sum > DEBIAN/md5sums)
mkdir -p "$into"
dpkg-deb --root-owner-group -Zzstd -z12 --build "$root" "$into/plectrum_${version}_$arch.deb" >/dev/null
say "$into/plectrum_${version}_$arch.deb: $(du -h "$into/plectrum_${version}_$arch.deb" | cut -f1), $(du -sh "$root/usr" | cut -f1) installed"
