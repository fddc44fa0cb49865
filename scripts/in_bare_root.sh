#!/usr/bin/env bash
# The part of bare_root.sh that runs inside the bare root.
set -Eeuo pipefail
export DEBIAN_FRONTEND=noninteractive LC_ALL=C.UTF-8 QT_QPA_PLATFORM=offscreen
if [ -e /src/trusted.pem ]; then
    export PIP_CERT=/src/trusted.pem
    for name in $(env | sed -n 's,^\([A-Z_]*\)=/etc/ssl/certs/ca-certificates.crt$,\1,p'); do
        export "$name=/src/trusted.pem"
    done
fi
say() { echo "bare: $*"; }
fail() { echo "bare: FAILED: $*" >&2; exit 1; }
used_mb() { du -sm --one-file-system / 2>/dev/null | cut -f1; }
as_user() { cd /home/player && runuser -u player -- env HOME=/home/player LC_ALL=C.UTF-8 QT_QPA_PLATFORM=offscreen bash -c "$1"; }

# What it does, timed, with the disk it took.
timed() {
    local what=$1 before began
    shift
    before=$(used_mb) began=$SECONDS
    "$@" || fail "$what"
    say "$what: $((SECONDS - began)) s, $(($(used_mb) - before)) MB"
}

# A window that stays open until it is told to go.
opens() {
    local code=0
    timeout --signal=INT --kill-after=20 "$1" bash -c "$2" || code=$?
    [ "$code" = 124 ] || [ "$code" = 130 ] || { echo "it ended by itself with $code"; return 1; }
}

# What a double click does: the kind of the file is found, and what opens that kind is started with it.
opens_by_kind() {
    local kind found=
    kind=$(as_user "gio info -a standard::content-type $1" | awk '/content-type:/ { print $2 }')
    as_user "gio mime $kind" | grep -q plectrum.desktop || { echo "$kind is not opened by plectrum"; return 1; }
    as_user "gio open $1" || return 1
    for _ in $(seq 40); do
        sleep 0.5
        found=$(pgrep -u player -f "plectrum open $1" | head -1) && break
    done
    [ -n "$found" ] || { echo "nothing opened $1"; return 1; }
    sleep 10
    kill -INT "$found" || { echo "its window did not stay"; return 1; }
    tail --pid="$found" -f /dev/null
}

. /etc/os-release
say "this is $PRETTY_NAME"
apt-get update -qq
timed "git and make, as the README says" bash -c "apt-get install -y -qq --no-install-recommends git make >/dev/null 2>&1"
useradd --create-home player
cp -r /src/plectrum /home/player/plectrum
chown -R player: /home/player

# As an ordinary user: it names what is missing of the system, root installs that, and it goes on.
said=$(as_user "cd ~/plectrum && make demo" 2>&1) && fail "make demo did not say what is missing"
line=$(grep -o 'sudo apt-get install .*' <<<"$said") || fail "it named no command: $said"
timed "system packages, by the line it named" bash -c "${line#sudo } -y -qq --no-install-recommends >/dev/null 2>&1"
timed "make setup's part of make demo, as a user" as_user "cd ~/plectrum && make .venv/.runtime >~/setup.log 2>&1 || { tail -5 ~/setup.log; exit 1; }"
timed "make demo, as a user, open for half a minute" opens 30 "runuser -u player -- env HOME=/home/player QT_QPA_PLATFORM=offscreen make -C /home/player/plectrum demo"
timed "make test, as a user" as_user "cd ~/plectrum && make test >~/test.log 2>&1 || { tail -40 ~/test.log; exit 1; }"
tail -3 /home/player/test.log
rm -rf /home/player/plectrum/.venv

# As root, from nothing again.
cp -r /src/plectrum /root/plectrum
timed "make setup's part of make demo, as root" bash -c "make -C /root/plectrum .venv/.runtime >/root/setup.log 2>&1 || { tail -5 /root/setup.log; exit 1; }"
timed "make demo, as root, open for 20 s" opens 20 "make -C /root/plectrum demo"
timed "make test, as root" bash -c "make -C /root/plectrum test >/root/test.log 2>&1 || { tail -40 /root/test.log; exit 1; }"
tail -3 /root/test.log

# The wheel: in an environment of its own, away from the checkout.
timed "make wheel" bash -c "make -C /root/plectrum wheel >/root/wheel.log 2>&1 || { tail -5 /root/wheel.log; exit 1; }"
install -m 644 /root/plectrum/dist/*.whl -t /home/player
timed "the wheel installed, as a user" as_user "python3 -I -m venv ~/apart && ~/apart/bin/pip install -q --disable-pip-version-check ~/*.whl"
cp /src/plectrum/src/plectrum/demo/lantern_ferry.musicxml /home/player/
as_user "cd / && ~/apart/bin/plectrum plan ~/lantern_ferry.musicxml | head -3" || fail "plectrum plan from the wheel"
as_user "cd / && LANGUAGE=de ~/apart/bin/plectrum plan ~/lantern_ferry.musicxml | grep -q 'Takt 1'" || fail "German from the wheel"
as_user "cd / && ~/apart/bin/plectrum handout ~/lantern_ferry.musicxml -o ~/page.pdf && test -s ~/page.pdf" || fail "a page from the wheel"
timed "the wheel's window" opens 15 "runuser -u player -- env HOME=/home/player QT_QPA_PLATFORM=offscreen /home/player/apart/bin/plectrum-window /home/player/lantern_ferry.musicxml"
rm -rf /home/player/apart /home/player/*.whl

# The package: built, installed, opened as a double click does, removed without rest.
timed "make deb" bash -c "cd /root/plectrum && make deb >/root/deb.log 2>&1 || { tail -5 /root/deb.log; exit 1; }"
tail -1 /root/deb.log
# What a desktop has to tell kinds of files apart.
timed "a desktop's tools for kinds of files" bash -c "apt-get install -y -qq --no-install-recommends shared-mime-info desktop-file-utils libglib2.0-bin procps >/dev/null 2>&1"
system_files() {
    find / -xdev \( -path /proc -o -path /tmp -o -path /root -o -path /var -o -path /home \) -prune -o -print | sort
}
system_files >/tmp/before
timed "the package installed" bash -c "apt-get install -y -qq --no-install-recommends /root/plectrum/dist/plectrum_*.deb >/root/apt.log 2>&1 || { tail -5 /root/apt.log; exit 1; }"
[ "$(plectrum --version)" = "plectrum $(dpkg-query -W -f '${Version}' plectrum)" ] || fail "its version"
as_user "plectrum plan ~/lantern_ferry.musicxml | head -3" || fail "plectrum plan from the package"
as_user "printf 'X:1\nT:Quay\nM:4/4\nL:1/4\nK:D\nDEFG|A4|]\n' >~/tune.abc" &&
    as_user "/usr/lib/plectrum/bin/python -I -c 'import plectrum; plectrum.save(plectrum.read(\"tune.abc\"), \"plan.plectrum\")'" ||
    fail "a plan file from the package"
for name in lantern_ferry.musicxml tune.abc plan.plectrum; do
    timed "$name opened by its kind, as a double click does" opens_by_kind "/home/player/$name"
done
timed "the package removed" bash -c "apt-get purge -y -qq plectrum >/dev/null 2>&1"
system_files >/tmp/after
comm -13 /tmp/before /tmp/after | grep -i plectrum && fail "the package left something behind"
say "all went well"
