#!/usr/bin/env bash
# Tries the README's two commands and the Debian package in a Debian that has nothing yet, as an
# ordinary user and as root, and says how long they took and how much disk they used.
#
#   bare_root.sh [SUITE]      on that Debian; else on the oldest and the newest of today in turn, by
#                             the number of the commit
#
# Exit 0 where all went well or where such a root cannot be made here, which is said with the reason.
set -Eeuo pipefail
cd "$(dirname "$0")/.."
checkout=$PWD
say() { echo "bare: $*"; }
skip() { say "skipped: $*"; exit 0; }

[ "$(id -u)" = 0 ] || skip "a root is made by root alone"
command -v debootstrap >/dev/null ||
    { apt-get update -qq && apt-get install -y -qq --no-install-recommends debootstrap; } >/dev/null 2>&1 ||
    skip "debootstrap is not there and cannot be installed"
unshare --mount --pid --fork true 2>/dev/null || skip "this machine lends no name spaces"
sources=$(apt-get indextargets --format '$(REPO_URI)' 2>/dev/null | sed 's,/$,,' | sort -u || true)
mirror=$(grep '/debian$' <<<"$sources" | head -1 || true)
[ -n "$mirror" ] || skip "no source of Debian packages is known here"
security=$(grep '/debian-security$' <<<"$sources" | head -1 || true)
git() { command git -c safe.directory="$checkout" "$@"; }
suites=(bookworm trixie)  # Debian 12 and 13
suite=${1:-${suites[$(git rev-list --count HEAD) % 2]}}
free_mb=$(df -Pm "${TMPDIR:-/tmp}" | awk 'END { print $4 }')
[ "$free_mb" -gt 9000 ] || skip "only $free_mb MB are free; 9000 are needed"

root=$(mktemp -d)
chmod 755 "$root"  # an ordinary user has to get in
trap 'rm -rf --one-file-system "$root"' EXIT
say "a bare $suite in $root"
debootstrap --variant=minbase "$suite" "$root" "$mirror" >"$root.log" 2>&1 ||
    { tail -3 "$root.log"; skip "debootstrap did not end well"; }
rm -f "$root.log"

# Where packages come from is this machine's business: its settings go along, its suites do not.
for path in /etc/apt/apt.conf.d /etc/pip.conf /etc/xdg/pip /etc/resolv.conf /etc/hosts \
    /usr/share/keyrings /etc/apt/trusted.gpg.d; do
    [ -e "$path" ] || continue
    mkdir -p "$root$(dirname "$path")"
    rm -rf "${root:?}$path"
    cp -rL "$path" "$root$path"
done
{
    echo "deb $mirror $suite main"
    echo "deb $mirror $suite-updates main"
    [ -z "$security" ] || echo "deb $security $suite-security main"
} >"$root/etc/apt/sources.list"
mkdir -p "$root/src"
# The root will have certificates of its own; what this machine trusts lies beside them.
[ ! -e /etc/ssl/certs/ca-certificates.crt ] || cp -L /etc/ssl/certs/ca-certificates.crt "$root/src/trusted.pem"
git archive --prefix=plectrum/ HEAD | tar -x -C "$root/src"
cp scripts/in_bare_root.sh "$root/in_bare_root.sh"
unshare --mount --pid --fork --mount-proc="$root/proc" bash -c "
    mount -t tmpfs tmpfs '$root/dev/shm' 2>/dev/null || { mkdir -p '$root/dev/shm' && mount -t tmpfs tmpfs '$root/dev/shm'; }
    exec chroot '$root' /bin/bash /in_bare_root.sh"
