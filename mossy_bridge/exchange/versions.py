"""Earlier versions of flow files: of each file the last twenty saves, and the first of each day.

They are kept outside the project, packed, in a folder for each file; the names of versions are the times of saving.
"""

import contextlib
import gzip
import hashlib
import os
import zlib
from collections.abc import Sequence
from datetime import UTC, datetime
from pathlib import Path

from msgspec import Struct

from mossy_bridge.exchange.reading import LARGEST_FILE, CannotRead, flow_from_bytes
from mossy_bridge.exchange.saving import CannotSave, replace_file
from mossy_bridge.model.flow import Flow

LATEST = 20
ENDING = ".mossy.gz"
_STAMP = "%Y%m%dT%H%M%S.%fZ"


class Version(Struct, frozen=True):
    """A version that was saved, and when."""

    file: Path
    when: datetime
    """In local time."""


class Versions:
    """Keeps versions below a folder."""

    def __init__(self, folder: Path):
        self._folder = folder

    def _of(self, path: Path) -> Path:
        return self._folder / hashlib.sha256(os.fsencode(path)).hexdigest()[:24]

    def keep(self, path: Path, data: bytes, now: datetime | None = None) -> None:
        """Keeps what was saved to a file, unless it is what was saved there last; lets go of what is no longer to be
        kept. Raises :class:`CannotSave`."""
        folder = self._of(path)
        known = self.of(path)
        if known and _bytes(known[0].file) == data:
            return
        try:
            folder.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise CannotSave(f"{folder} could not be made: {error.strerror or error}") from error
        when = (now or datetime.now(UTC)).astimezone(UTC)
        replace_file(folder / f"{when.strftime(_STAMP)}{ENDING}", gzip.compress(data, 5), backup=False)
        for version in outdated(self.of(path)):
            with contextlib.suppress(OSError):
                version.file.unlink()

    def of(self, path: Path) -> list[Version]:
        """The versions of a file, the latest first."""
        found = []
        with contextlib.suppress(OSError):
            for file in self._of(path).iterdir():
                with contextlib.suppress(ValueError):
                    when = datetime.strptime(file.name.removesuffix(ENDING), _STAMP).replace(tzinfo=UTC)
                    found.append(Version(file, when.astimezone()))
        return sorted(found, key=lambda version: version.when, reverse=True)


def outdated(versions: Sequence[Version]) -> list[Version]:
    """Of versions, the latest first, those neither among the last nor the first of their day."""
    first = {version.when.date(): version for version in versions}
    return [version for version in versions[LATEST:] if first[version.when.date()] is not version]


def read_version(version: Version) -> Flow:
    """The flow of a version. Raises :class:`CannotRead`."""
    data = _bytes(version.file)
    if data is None:
        raise CannotRead([f"{version.file}: this version is damaged or gone"])
    return flow_from_bytes(data)


def _bytes(file: Path) -> bytes | None:
    try:
        with gzip.open(file) as packed:
            return packed.read(LARGEST_FILE)
    except (OSError, EOFError, zlib.error):
        return None
