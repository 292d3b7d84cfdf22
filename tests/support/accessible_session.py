"""Drives the program by its accessible tree and by keys alone, as somebody does who hears it read.

It runs under the system's Python, which has the bindings to AT-SPI; what it does and hears is printed, a line each, and
the first thing that does not come ends it with status 1. Called: accessible_session.py PYTHON FLOW
"""

import os
import re
import subprocess
import sys
import time

import gi

gi.require_version("Atspi", "2.0")
from gi.repository import Atspi  # noqa: E402 - the version has to be asked for first

PATIENCE = 60
DEEPEST, MOST_CHILDREN = 40, 400


def say(words):
    print(words, flush=True)


def wait(look, for_what):
    """What a look finds, as soon as it finds something."""
    end = time.monotonic() + PATIENCE
    while time.monotonic() < end:
        try:
            found = look()
        except Exception:  # noqa: BLE001 - what is looked at may go away meanwhile
            found = None
        if found:
            return found
        time.sleep(0.1)
    say(f"in vain: {for_what}")
    sys.exit(1)


class Session:
    """One program, heard and driven."""

    def __init__(self, python, flow):
        environment = {**os.environ, "QT_LINUX_ACCESSIBILITY_ALWAYS_ON": "1", "QT_QPA_PLATFORM": "xcb"}
        self.program = subprocess.Popen([python, "-m", "mossy_bridge", "open", "--own", flow], env=environment)
        self.tree = wait(self._application, "the program among those that can be read")
        window = wait(lambda: self._tool("search", "--name", "Mossy Bridge").split(), "its window")[0]
        self._tool("windowfocus", "--sync", window)

    def _application(self):
        desktop = Atspi.get_desktop(0)
        found = [desktop.get_child_at_index(number) for number in range(desktop.get_child_count())]
        return next((one for one in found if one and one.get_name() == "Mossy Bridge"), None)

    def _tool(self, *words):
        return subprocess.run(["xdotool", *words], capture_output=True, text=True, check=False).stdout

    def all(self, above=None, depth=0):
        """Everything that can be heard."""
        here = above or self.tree
        if depth:
            yield here
        for number in range(min(here.get_child_count(), MOST_CHILDREN)) if depth < DEEPEST else ():
            below = here.get_child_at_index(number)
            if below and (depth < 2 or below.get_state_set().contains(Atspi.StateType.SHOWING)):
                yield from self.all(below, depth + 1)

    def hear(self, pattern, role=""):
        """Waits until something with such a name can be heard, and says it."""
        found = wait(
            lambda: next((one for one in self.all() if self._is(one, pattern, role)), None), f"{role} {pattern}"
        )
        say(f"heard: {found.get_role_name()} “{found.get_name()}”")
        return found

    def hear_no_more(self, pattern):
        wait(lambda: not any(self._is(one, pattern, "") for one in self.all()), f"the end of {pattern}")
        say(f"no longer heard: {pattern}")

    def _is(self, one, pattern, role):
        return re.search(pattern, one.get_name() or "") and (not role or one.get_role_name() == role)

    def focused(self):
        """What has the keyboard; of a list the item one is at. Items of other lists say so of themselves, too."""
        with_keyboard = [one for one in self.all() if one.get_state_set().contains(Atspi.StateType.FOCUSED)]
        widgets = [one for one in with_keyboard if one.get_role_name() != "list item"]
        items = [one for one in with_keyboard if widgets and one.get_parent() == widgets[-1]]
        return items[-1] if items else widgets[-1] if widgets else None

    def on(self, pattern):
        """Waits until the keyboard is on something with such a name."""
        found = wait(
            lambda: (one := self.focused()) and self._is(one, pattern, "") and one, f"the keyboard on {pattern}"
        )
        say(f"the keyboard is on: {found.get_role_name()} “{found.get_name()}”")
        return found

    def key(self, *keys):
        for key in keys:
            say(f"key: {key}")
            self._tool("key", key)
            time.sleep(0.15)

    def type(self, text):
        say(f"typed: {text}")
        self._tool("type", "--delay", "30", text)

    def keys_until(self, key, pattern, most=60):
        """Presses a key until the keyboard is on something with such a name."""
        for pressed in range(most):
            one = wait(self.focused, "the keyboard anywhere")
            if self._is(one, pattern, ""):
                say(f"key: {key}, {pressed} times; on: {one.get_role_name()} “{one.get_name()}”")
                return
            self._tool("key", key)
            time.sleep(0.2)
        say(f"in vain: {key} to get to {pattern}")
        sys.exit(1)


def main(python, flow):
    session = Session(python, flow)
    session.hear("^Verdict: All 8 levels reached")
    session.key("shift+F9")
    session.on("^Title, screen, sound, the game starts here")
    session.keys_until("Down", "^1-4 Level 4, level, sound")

    session.key("ctrl+shift+n")
    session.on("^1-5 New level, level")
    session.hear("^Verdict: 1 of 9 levels is never reached")

    session.key("ctrl+j")
    session.on("^Find")
    session.type("Level 4")
    session.key("Return")
    session.hear("^Verdict: All 9 levels reached")

    session.key("shift+Tab", "Down", "Tab", "Home")
    session.keys_until("Down", "^1-3 Level 3, level")
    session.keys_until("Down", "^West door leads to Level 2")
    session.key("Delete")
    session.on("^Do it")
    session.key("space")
    session.hear("^Level 2: East door leads to Level 3, but nothing leads back", "list item")
    session.keys_until("F8", "^Level 2: East door leads to Level 3, but nothing leads back")
    session.keys_until("Tab", "^Repair: Connect the way back", most=6)
    session.key("space")
    session.keys_until("Tab", "^Do it", most=6)
    session.key("space")
    session.hear_no_more("^Level 2: East door leads to Level 3, but nothing leads back")
    session.hear("^Verdict: All 9 levels reached")

    session.key("ctrl+s", "ctrl+q")
    wait(lambda: session.program.poll() is not None, "the end of the program")
    say(f"the program ended with {session.program.returncode}")
    sys.exit(session.program.returncode)


if __name__ == "__main__":
    main(*sys.argv[1:])
