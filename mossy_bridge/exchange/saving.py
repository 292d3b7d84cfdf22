"""Saving without ever leaving half a file, and without losing what was there before.

The new file is written beside the old one and synced; then the old one is copied to its backup (``~``), likewise
beside it and synced; only then are both swapped in, and the folder synced. Whatever fails before leaves file and backup
as they were. A temporary file holds a lock as long as its program lives, so that those left by a kill can be told from
those in use (:func:`clear_leftovers`).
"""

import contextlib
import errno
import fcntl
import os
import secrets
import stat
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path

from mossy_bridge.exchange.reading import CannotRead, flow_from_bytes
from mossy_bridge.exchange.writing import flow_bytes
from mossy_bridge.model.flow import Flow

TEMPORARY = ".mossy-bridge-"
"""Begins the names of temporary files. They do not hold the file's own name, which may be as long as names can be."""
LONGEST_FILE_NAME = 255
"""Bytes."""
CHUNK = 1 << 20


class CannotSave(OSError):  # noqa: N818 - named for what the user reads
    """The file could not be written; what was there before is untouched. The message is for the user."""


def save_flow(flow: Flow, path: str | Path) -> bytes:
    """Writes the flow in its canonical form, having seen that it reads back the same; what was written. Raises
    :class:`CannotSave`."""
    data = flow_bytes(flow)
    try:
        same = flow_from_bytes(data) == flow
    except CannotRead as error:
        raise CannotSave(f"{path} was not saved, because it could not be opened again: {error.problems[0]}") from error
    if not same:
        raise CannotSave(f"{path} was not saved, because what would be written does not read back the same")
    replace_file(Path(path), data)
    return data


def replace_file(path: Path, data: bytes, backup: bool = True) -> None:
    """Puts the bytes in place of the file, whole or not at all; a link stays a link. Raises :class:`CannotSave`."""
    try:
        target = path.resolve()
        before = _ordinary(target)
        clear_leftovers(target.parent)
        with _written(target.parent, [data]) as temporary:
            if before is None:
                _swap(temporary, target)
                return
            kept = _like(temporary, before)
            if backup:
                with _copied(target) as copy:
                    _swap(copy, backup_of(target))
            if kept:
                _swap(temporary, target)
            else:
                _overwrite(target, data)
    except (OSError, RuntimeError, ValueError) as error:  # the latter two: loops of links, impossible names
        raise CannotSave(f"{path} could not be saved: {_reason(error)}") from error


def backup_of(target: Path) -> Path:
    """Where the version before is kept: the name with ``~`` behind it, cut where it would be too long."""
    name = os.fsencode(target.name)[: LONGEST_FILE_NAME - 1].decode("utf-8", "ignore")
    return target.with_name(f"{name}~")


def clear_leftovers(folder: Path) -> None:
    """Removes temporary files in the folder whose programs do not run any more."""
    with contextlib.suppress(OSError):
        for leftover in folder.glob(f"{TEMPORARY}*"):
            with contextlib.suppress(OSError), leftover.open("rb") as file:
                fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
                leftover.unlink()


def _ordinary(target: Path) -> os.stat_result | None:
    """What the system knows of the file; None where there is none yet. Raises OSError where nothing can be saved."""
    try:
        found = target.stat()
    except FileNotFoundError:
        return None
    if stat.S_ISDIR(found.st_mode):
        raise IsADirectoryError(errno.EISDIR, "a folder has this name")
    if not stat.S_ISREG(found.st_mode):
        raise OSError(errno.EINVAL, "it is no ordinary file")
    if not found.st_mode & 0o222 or not os.access(target, os.W_OK):
        raise PermissionError(errno.EACCES, "it is write-protected")
    return found


@contextmanager
def _written(folder: Path, parts: Iterable[bytes]) -> Iterator[Path]:
    """A new file in the folder with the bytes of the parts, synced; it is gone afterwards, unless it was moved."""
    path = folder / f"{TEMPORARY}{secrets.token_hex(8)}"
    handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, 0o666)
    try:
        with os.fdopen(handle, "wb") as file:
            with contextlib.suppress(OSError):  # file systems without locks
                fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            file.writelines(parts)
            file.flush()
            os.fsync(file.fileno())
            yield path
    finally:
        path.unlink(missing_ok=True)


@contextmanager
def _copied(target: Path) -> Iterator[Path]:
    with target.open("rb") as file, _written(target.parent, iter(lambda: file.read(CHUNK), b"")) as copy:
        found = os.fstat(file.fileno())
        copy.chmod(stat.S_IMODE(found.st_mode))
        os.utime(copy, ns=(found.st_atime_ns, found.st_mtime_ns))
        yield copy


def _like(temporary: Path, before: os.stat_result) -> bool:
    """Gives the new file mode and owner of the old one; whether that is all it takes to stand in for it. It is not
    for a file of somebody else's, or with several names: these would lose their owner, or the others the changes."""
    temporary.chmod(stat.S_IMODE(before.st_mode))
    mine = temporary.stat()
    if (mine.st_uid, mine.st_gid) != (before.st_uid, before.st_gid):
        try:
            os.chown(temporary, before.st_uid, before.st_gid)
        except OSError:
            return False
    return before.st_nlink == 1


def _swap(new: Path, target: Path) -> None:
    new.replace(target)
    _sync_folder(target.parent)


def _overwrite(target: Path, data: bytes) -> None:
    """Writes into the file itself, where it must stay the same one; room for all is found before anything is
    changed."""
    with target.open("r+b") as file:
        os.posix_fallocate(file.fileno(), 0, max(1, len(data)))
        file.write(data)
        file.truncate()
        file.flush()
        os.fsync(file.fileno())


def _sync_folder(folder: Path) -> None:
    handle = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def _reason(error: Exception) -> str:
    if isinstance(error, RuntimeError) or getattr(error, "errno", None) == errno.ELOOP:
        return "its links lead in a circle"
    return getattr(error, "strerror", "") or str(error)
