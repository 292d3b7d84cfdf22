"""Tells the desktop which flows were used lately, in the list that file managers and file dialogs show."""

import os
import tempfile
import threading
from datetime import UTC, datetime
from pathlib import Path

KIND = "application/vnd.mossy-bridge.flow+json"
CALL = "'mossy-bridge open %f'"
NAME = "Mossy Bridge"
BOOKMARK = "http://www.freedesktop.org/standards/desktop-bookmarks"
MIME = "http://www.freedesktop.org/standards/shared-mime-info"
EMPTY = f'<xbel version="1.0" xmlns:bookmark="{BOOKMARK}" xmlns:mime="{MIME}"/>'.encode()
MOST_BYTES = 8_000_000
"""A longer list is left alone."""


def recent_list() -> Path:
    """The file that holds the list of this user (freedesktop.org, Desktop Bookmark Specification)."""
    data = os.environ.get("XDG_DATA_HOME") or os.path.expanduser("~/.local/share")
    return Path(data) / "recently-used.xbel"


def tell_desktop_beside(path: Path) -> None:
    """Does so beside the window: the list may be long."""
    threading.Thread(target=tell_desktop, args=(path, recent_list()), daemon=True, name="recent files").start()


def tell_desktop(path: Path, file: Path) -> None:
    """Puts a flow into the list, or says there that it was used again. A list that cannot be read is left as it is."""
    from lxml import etree

    try:
        known = file.read_bytes() if file.exists() else EMPTY
        if len(known) > MOST_BYTES:
            return
        root = etree.fromstring(known, etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False))
    except (OSError, etree.XMLSyntaxError):
        return
    if root.tag != "xbel":
        return
    now = datetime.now(UTC).strftime("%Y-%m-%dT%H:%M:%SZ")
    found = next((one for one in root.iterfind("bookmark") if one.get("href") == path.as_uri()), None)
    entry = etree.SubElement(root, "bookmark", href=path.as_uri(), added=now) if found is None else found
    entry.set("modified", now)
    entry.set("visited", now)
    held = entry.find(f".//{{{BOOKMARK}}}applications")
    if held is None:
        data = etree.SubElement(etree.SubElement(entry, "info"), "metadata", owner="http://freedesktop.org")
        etree.SubElement(data, f"{{{MIME}}}mime-type", type=KIND)
        held = etree.SubElement(data, f"{{{BOOKMARK}}}applications")
    own = next((one for one in held if one.get("name") == NAME), None)
    if own is None:
        own = etree.SubElement(held, f"{{{BOOKMARK}}}application", name=NAME, exec=CALL, count="0")
    own.set("modified", now)
    count = own.get("count", "0")
    own.set("count", str(int(count) + 1 if count.isdecimal() else 1))
    _put(file, etree.tostring(root, xml_declaration=True, encoding="UTF-8"))


def _put(file: Path, data: bytes) -> None:
    """Writes the list whole or not at all; nobody else may read it."""
    try:
        file.parent.mkdir(parents=True, exist_ok=True)
        handle, name = tempfile.mkstemp(dir=file.parent, prefix=".recently-used")
        with os.fdopen(handle, "wb") as written:
            written.write(data)
        os.replace(name, file)
    except OSError:
        return
