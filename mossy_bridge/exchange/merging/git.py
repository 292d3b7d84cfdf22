"""What git needs to merge flows and to show what was changed in them: set up in one repository, and taken back."""

import shlex
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

NAME = "mossy"
ATTRIBUTES = f"*.mossy merge={NAME} diff={NAME}"
CALL = f"{shlex.quote(sys.executable)} -P -m mossy_bridge"
SETTINGS = {
    f"merge.{NAME}.name": "flows, thing by thing",
    f"merge.{NAME}.driver": f"{CALL} merge %O %A %B -o %A --markers",
    f"diff.{NAME}.command": f"{CALL} git-diff",
}
"""What is set in the repository's own configuration; it is neither committed nor sent anywhere."""


class CannotSetUp(Exception):  # noqa: N818 - the reason, as it is told
    """There is no git here, or no repository."""


class Repository:
    """The repository that a folder is in. Raises :class:`CannotSetUp`."""

    def __init__(self, folder: Path):
        self._folder = folder
        self._attributes = folder / self._git("rev-parse", "--git-path", "info/attributes").strip()

    def set_up(self) -> Iterator[str]:
        """Sets git up; says what was done."""
        for name, value in SETTINGS.items():
            self._git("config", "--local", name, value)
            yield f"git config {name} “{value}”"
        if ATTRIBUTES not in self._lines():
            self._write([*self._lines(), ATTRIBUTES])
        yield f"{self._attributes}: {ATTRIBUTES}"
        yield "This repository only; mossy-bridge git-setup --undo takes it back."

    def take_back(self) -> Iterator[str]:
        """Takes it back; says what was done."""
        for section in (f"merge.{NAME}", f"diff.{NAME}"):
            try:
                self._git("config", "--local", "--remove-section", section)
                yield f"git config --remove-section {section}"
            except CannotSetUp:
                yield f"{section} was not set"
        kept = [line for line in self._lines() if line != ATTRIBUTES]
        self._write(kept)
        yield f"{self._attributes}: “{ATTRIBUTES}” is not there any more"

    def _lines(self) -> list[str]:
        try:
            return self._attributes.read_text("utf-8").splitlines()
        except FileNotFoundError:
            return []
        except OSError as error:
            raise CannotSetUp(f"{self._attributes}: {error.strerror or error}") from error

    def _write(self, lines: list[str]) -> None:
        try:
            if lines or self._attributes.exists():
                self._attributes.parent.mkdir(parents=True, exist_ok=True)
                self._attributes.write_text("".join(f"{line}\n" for line in lines), "utf-8")
        except OSError as error:
            raise CannotSetUp(f"{self._attributes}: {error.strerror or error}") from error

    def _git(self, *arguments: str) -> str:
        try:
            done = subprocess.run(["git", *arguments], cwd=self._folder, capture_output=True, text=True, check=False)
        except FileNotFoundError:
            raise CannotSetUp("git is not installed here") from None
        if done.returncode:
            raise CannotSetUp(done.stderr.strip() or f"git {' '.join(arguments)} failed")
        return done.stdout
