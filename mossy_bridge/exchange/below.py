"""Files below a flow's folder, and no others: wherever names, ``..`` or links may lead."""

from pathlib import Path, PurePosixPath


def file_below(folder: Path, name: str) -> Path | None:
    """Where a name in a flow leads, if that is below the folder; it need not exist. None where it is not, or where
    no file can have such a name."""
    wanted = PurePosixPath(name)
    if wanted.is_absolute() or ".." in wanted.parts:
        return None
    try:
        path, root = (folder / wanted).resolve(), folder.resolve()
    except (OSError, RuntimeError, ValueError):  # links in a circle; a null character
        return None
    return path if path.is_relative_to(root) else None
