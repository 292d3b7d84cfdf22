#!/bin/sh
# Installs a package on a bare Debian, starts it from the menu, opens a flow by its kind, and removes it without a trace;
# once without and once with Debian's own, older Qt. Needs root, mmdebstrap and a network.
# Run: packaging/try_deb.sh PACKAGE
set -eu
package=$(realpath "$1")
root=$(mktemp -d)
trap 'umount -R "$root/dev" "$root/proc" 2>/dev/null || true; rm -rf "$root"' EXIT
mmdebstrap --variant=minbase --quiet \
    --include=python3,desktop-file-utils,shared-mime-info,xvfb,xdotool,libgtk-3-bin,libglib2.0-bin,procps,hicolor-icon-theme \
    bookworm "$root"
cp /etc/resolv.conf "$root/etc/resolv.conf"
mount -t proc proc "$root/proc"
mount --rbind /dev "$root/dev"
cp "$package" "$root/root/package.deb"
cat > "$root/root/use.sh" <<'END'
set -eu
export HOME=/root/home XDG_RUNTIME_DIR=/tmp/run LANG=C.UTF-8 DISPLAY=:7
mkdir -p "$HOME" "$XDG_RUNTIME_DIR"
chmod 700 "$XDG_RUNTIME_DIR"
Xvfb :7 -screen 0 1280x800x24 >/dev/null 2>&1 &
screen=$!
trap 'kill $screen' EXIT
sleep 1
shown() {
    for _ in $(seq 60); do
        window=$(xdotool search --name "$1" 2>/dev/null | head -1) || true
        if [ -n "$window" ]; then echo "shown: $(xdotool getwindowname "$window")"; pkill -f bin/mossy-bridge; sleep 1; return; fi
        sleep 0.5
    done
    echo "no window is called $1"; exit 1
}
gtk-launch mossy-bridge
shown "Untitled flow"
cp /usr/lib/mossy-bridge/mossy_bridge/demo/tidewick.mossy /tmp/flow.mossy
gio info -a standard::content-type /tmp/flow.mossy | grep -q vnd.mossy-bridge
gio open /tmp/flow.mossy
shown "Tidewick"
END
files() { (cd "$root" && find usr etc -xdev | grep -iE "mossy|mime/(packages|application/vnd.mossy)" | sort); }
files > "$root/root/before"
in_root() { chroot "$root" env DEBIAN_FRONTEND=noninteractive "$@"; }
in_root apt-get update -qq
in_root apt-get install -y -qq --no-install-recommends /root/package.deb >/dev/null
in_root mossy-bridge --version
in_root sh /root/use.sh
in_root apt-get install -y -qq --no-install-recommends python3-pyqt6 libqt6svg6 libqt6opengl6 libqt6pdf6 >/dev/null
echo "with Debian's own Qt:"
in_root sh /root/use.sh
in_root apt-get purge -y -qq mossy-bridge >/dev/null
files > "$root/root/after"
diff "$root/root/before" "$root/root/after" && echo "removed without a trace"
