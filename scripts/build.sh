#!/usr/bin/env bash
# Runs pip on Plectrum itself, with the tools of requirements/build.txt and no others.
#
#   build.sh PYTHON COMMAND [OPTION...]      such as: build.sh .venv/bin/python install -e
set -Eeuo pipefail
cd "$(dirname "$0")/.."
python=$1
tools=$(mktemp -d)
trap 'rm -rf "$tools"' EXIT
pip() { "$python" -I -m pip --disable-pip-version-check --no-input "$@"; }
pip install -q --no-warn-conflicts --require-hashes --target "$tools" -r requirements/build.txt
# The build runs in a process of its own, which finds the tools by this.
PYTHONPATH=$tools pip "${@:2:1}" --no-build-isolation --no-deps "${@:3}" .
