"""Saving without ever leaving half a file: temporary file, sync, rename; the version before is kept as ``~``."""

import contextlib
import os
import shutil
import tempfile
from pathlib import Path

from mossy_bridge.exchange.writing import flow_bytes
from mossy_bridge.model.flow import Flow


class CannotSave(OSError):  # noqa: N818 - named for what the user reads
    """The file could not be written; what was there before is untouched. The message is for the user."""


def save_flow(flow: Flow, path: str | Path) -> None:
    """Writes the flow in its canonical form. Raises :class:`CannotSave`."""
    replace_file(Path(path), flow_bytes(flow))


def replace_file(path: Path, data: bytes, backup: bool = True) -> None:
    """Puts the bytes in place of the file, whole or not at all. Raises :class:`CannotSave`."""
    target = path.resolve()  # a link stays a link
    try:
        with tempfile.NamedTemporaryFile(dir=target.parent, prefix=f".{target.name}.", delete=False) as file:
            temporary = Path(file.name)
            try:
                file.write(data)
                file.flush()
                os.fsync(file.fileno())
                _like(temporary, target)
                if backup:
                    _keep_backup(target)
                temporary.replace(target)
            except BaseException:
                temporary.unlink(missing_ok=True)
                raise
        _sync_folder(target.parent)
    except OSError as error:
        raise CannotSave(f"{path} could not be saved: {error.strerror or error}") from error


def _like(temporary: Path, target: Path) -> None:
    if target.exists():
        shutil.copymode(target, temporary)
    else:
        mask = os.umask(0)
        os.umask(mask)
        temporary.chmod(0o666 & ~mask)


def _keep_backup(target: Path) -> None:
    if target.exists():
        backup = target.with_name(target.name + "~")
        with contextlib.suppress(FileNotFoundError):
            backup.unlink()
        shutil.copy2(target, backup)


def _sync_folder(folder: Path) -> None:
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)
