#!/usr/bin/env bash
# Sets up a fresh Debian-like machine, as root or as an ordinary user: system packages by apt, then
# a virtual environment. What fails leaves nothing half-made behind.
#
#   setup.sh PYTHON runtime      what the application needs
#   setup.sh PYTHON developer    what testing and developing need too
set -Eeuo pipefail
cd "$(dirname "$0")/.."
python=${1:-python3}
for_whom=${2:-developer}

say() { echo "setup: $*"; }
stop() { echo "setup: $*" >&2; exit 1; }

# The first of some names of a package that this Debian knows; where it knows none yet, the last.
package_of() {
    local name
    for name in "$@"; do
        apt-cache show "$name" >/dev/null 2>&1 && break
    done
    echo "$name"
}

# What is missing of the system: libraries are looked for, not packages, which Debian renames. Without
# a compiler it can do, so what that takes is only wished for.
missing="" wished=""
if command -v "$python" >/dev/null; then
    "$python" -I -c 'import sys; sys.exit(sys.version_info < (3, 11))' ||
        stop "Python 3.11 or newer is needed; this is $("$python" --version 2>&1)"
    "$python" -I -c 'import ensurepip, venv' 2>/dev/null || missing="python3-venv"
    "$python" -I -c 'import os, sysconfig; open(os.path.join(sysconfig.get_path("include"), "Python.h"))' \
        2>/dev/null || wished="python3-dev"
else
    missing="python3 python3-venv" wished="python3-dev"
fi
command -v cc >/dev/null || wished="$wished gcc libc6-dev"
if [ -x /sbin/ldconfig ] && command -v apt-get >/dev/null; then
    there=$(/sbin/ldconfig -p)
    while read -r library packages; do
        grep -q "[[:space:]]$library " <<<"$there" || missing="$missing $(package_of $packages)"
    done < <(grep -v '^#' requirements/apt.txt)
fi
missing=$(echo $missing) wished=$(echo $wished)
if [ "$(id -u)" = 0 ] && [ -n "$missing$wished" ] && command -v apt-get >/dev/null; then
    say "1 of 4: system packages: $missing $wished"
    apt-get update -qq
    DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $missing $wished >/dev/null
elif [ -n "$missing" ]; then
    stop "these system packages are missing; please run this once, then start again:
    sudo apt-get install $missing $wished"
else
    say "1 of 4: every system package is there"
    [ -z "$wished" ] || say "  but no compiler: long pieces are planned many times slower. To mend it:
    sudo apt-get install $wished && make clean setup"
fi

# An environment that was not finished, or whose Python is gone, is made anew.
if [ -e .venv ] && ! { [ -e .venv/.whole ] && .venv/bin/python -I -m pip --version >/dev/null 2>&1; }; then
    say "an unfinished environment is taken away"
    rm -rf .venv
fi
unfinished() {
    [ -e .venv/.whole ] || rm -rf .venv
    stop "not finished; nothing half-made is left. Start again when the reason above is mended"
}
trap unfinished ERR
if [ ! -e .venv ]; then
    say "2 of 4: a virtual environment in .venv"
    "$python" -I -m venv .venv
else
    say "2 of 4: the virtual environment is there"
fi

# The packages are named as they come, so that nobody waits in silence.
install() {
    .venv/bin/python -I -m pip install --disable-pip-version-check --no-color --progress-bar off "$@" |
        sed -un -e 's/^Collecting \([^ ]*\).*/setup:   \1/p' -e 's/^Installing collected.*/setup:   unpacking/p'
}
requirements=requirements/runtime.txt
[ "$for_whom" = developer ] && requirements=requirements/dev.txt
say "3 of 4: packages of $requirements (some minutes, some hundred megabytes)"
install --require-hashes -r "$requirements"
.venv/bin/python -I scripts/prune.py .venv | sed "s/^/setup: /"
say "4 of 4: Plectrum itself, its inner loops compiled"
bash scripts/build.sh .venv/bin/python install -q -e
.venv/bin/python -I -m compileall -q src
touch .venv/.whole .venv/.runtime
[ "$for_whom" = developer ] && touch .venv/.developer
trap - ERR
say "done"
