"""Renders one picture, read from standard input, as a PNG of bounded size on standard output.

Run as a process of its own (``python -m``), which may be ended at any time: a picture can be made so that drawing it
takes for ever, or more memory than there is. Of an SVG only known elements are drawn, and nothing it names is read.
"""

import resource
import sys
from io import BytesIO
from xml.etree import ElementTree

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QRectF, QSize, Qt
from PyQt6.QtGui import QGuiApplication, QImage, QImageReader, QPainter
from PyQt6.QtSvg import QSvgRenderer

LONGEST_SIDE = 2048
"""Pixels."""
MOST_SECONDS, MOST_BYTES = 5, 3 << 30
SVG = "{http://www.w3.org/2000/svg}"
LINK = "{http://www.w3.org/1999/xlink}href"
DRAWN = frozenset({
    "svg", "g", "defs", "symbol", "use", "path", "rect", "circle", "ellipse", "line", "polyline", "polygon", "text",
    "tspan", "linearGradient", "radialGradient", "stop", "clipPath", "mask", "pattern", "marker", "title", "desc",
    "style", "switch", "a",
})  # fmt: skip
"""The elements that are drawn."""


def main() -> int:
    """Renders; 0 if it could."""
    resource.setrlimit(resource.RLIMIT_CPU, (MOST_SECONDS, MOST_SECONDS))
    resource.setrlimit(resource.RLIMIT_AS, (MOST_BYTES, MOST_BYTES))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    data = sys.stdin.buffer.read()
    app = QGuiApplication(["picture", "-platform", "offscreen"])
    image = _drawn_svg(data) if sys.argv[1:] == ["svg"] else _read_image(data)
    if image is None or image.isNull():
        return 1
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG")
    sys.stdout.buffer.write(buffer.data().data())
    del app
    return 0


def _fitting(size: QSize) -> QSize:
    if max(size.width(), size.height()) <= LONGEST_SIDE:
        return size
    return size.scaled(LONGEST_SIDE, LONGEST_SIDE, Qt.AspectRatioMode.KeepAspectRatio).expandedTo(QSize(1, 1))


def _read_image(data: bytes) -> QImage | None:
    buffer = QBuffer()
    buffer.setData(QByteArray(data))
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    reader = QImageReader(buffer)
    if reader.format().data() not in (b"png", b"jpeg", b"jpg"):
        return None
    size = reader.size()
    if size.isValid() and size != _fitting(size):
        reader.setScaledSize(_fitting(size))
    return reader.read()


def _drawn_svg(data: bytes) -> QImage | None:
    cleaned = cleaned_svg(data)
    renderer = QSvgRenderer(QByteArray(cleaned)) if cleaned else None
    if renderer is None or not renderer.isValid():
        return None
    size = renderer.defaultSize().expandedTo(QSize(1, 1))
    if max(size.width(), size.height()) < LONGEST_SIDE:
        size = size.scaled(LONGEST_SIDE, LONGEST_SIDE, Qt.AspectRatioMode.KeepAspectRatio).expandedTo(QSize(1, 1))
    image = QImage(_fitting(size), QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(Qt.GlobalColor.transparent)
    painter = QPainter(image)
    renderer.render(painter, QRectF(image.rect()))
    painter.end()
    return image


def cleaned_svg(data: bytes) -> bytes | None:
    """An SVG with nothing in it but known elements, and links within itself; None where it is none."""
    if b"<!ENTITY" in data:
        return None
    try:
        root = ElementTree.fromstring(data)
    except (ElementTree.ParseError, ValueError):
        return None
    if root.tag not in ("svg", f"{SVG}svg"):
        return None
    for parent in root.iter():
        for child in list(parent):
            name = child.tag.removeprefix(SVG) if isinstance(child.tag, str) else ""
            if name not in DRAWN:
                parent.remove(child)
        for key, value in list(parent.attrib.items()):
            linked = key in ("href", LINK) and not value.startswith("#")
            named = "url(" in value.replace(" ", "") and "url(#" not in value.replace(" ", "")
            if linked or named or key.startswith("on"):
                del parent.attrib[key]
        if parent.tag in ("style", f"{SVG}style") and parent.text and ("url(" in parent.text or "@" in parent.text):
            parent.text = ""
    ElementTree.register_namespace("", SVG[1:-1])
    ElementTree.register_namespace("xlink", LINK[1:].partition("}")[0])
    written = BytesIO()
    ElementTree.ElementTree(root).write(written, encoding="utf-8")
    return written.getvalue()


if __name__ == "__main__":
    sys.exit(main())
