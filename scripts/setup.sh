#!/usr/bin/env bash
# Sets up a fresh Debian-like machine: system libraries by apt, then a virtual environment.
set -eu
cd "$(dirname "$0")/.."
python=${1:-python3}

missing=""
for package in $(grep -v '^#' requirements/apt.txt); do
    dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q 'install ok installed' || missing="$missing $package"
done
if [ -n "$missing" ]; then
    if [ "$(id -u)" = 0 ]; then
        apt-get update -qq
        DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $missing >/dev/null
    else
        echo "Missing system libraries. Please run:  sudo apt-get install$missing" >&2
    fi
fi

[ -x .venv/bin/python ] || "$python" -m venv .venv
.venv/bin/python -m pip install --quiet --disable-pip-version-check -r requirements/dev.txt
.venv/bin/python -m pip install --quiet --disable-pip-version-check --no-deps -e .
touch .venv/.ready
