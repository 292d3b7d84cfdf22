"""The whole map as a picture to hand round: SVG, PNG or PDF, drawn as the window draws it."""

from collections.abc import Callable
from functools import partial
from typing import Literal, get_args

from PyQt6.QtCore import QBuffer, QIODevice, QMarginsF, QRect, QRectF, QSize, QSizeF, Qt
from PyQt6.QtGui import QImage, QPageSize, QPainter, QPdfWriter
from PyQt6.QtSvg import QSvgGenerator

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.desk.map.bridges import lock_width
from mossy_bridge.desk.map.camera import Camera
from mossy_bridge.desk.map.painting import MapPainter
from mossy_bridge.desk.map.scene import MapScene
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.widgets.theme import Look

PictureKind = Literal["svg", "png", "pdf"]
PICTURES: tuple[PictureKind, ...] = get_args(PictureKind)
MARGIN, HEADING = 24.0, 46.0
"""Map units around the map, and above it for the title."""
SHARP = 2.0
"""Pixels of a PNG for one unit of the map, unless it gets too large."""
MOST_PIXELS = 100_000_000
REPORT_SCALES = ((60, 1.0), (600, 0.4), (10**9, 0.15))
"""Up to so many levels at which scale."""
POINTS = 72
"""Points of a page for an inch: one unit of the map is one point."""


def report_scale(levels: int) -> float:
    """How large the map of so many levels is drawn in a report: its cards, else beads, else hardly more than dots."""
    return next(scale for most, scale in REPORT_SCALES if levels <= most)


def map_picture(found: Appraisal, look: Look, kind: PictureKind, scale: float = 1.0) -> bytes:
    """The map of an appraised flow, in the colours of a look; as it is seen at a scale."""
    scene = MapScene(partial(lock_width, look))
    scene.show(found.survey.flow, found)
    area = scene.bounds() if scene.cards else QRectF(0, 0, 200, 60)
    margin = MARGIN / scale
    area = area.adjusted(-margin, -margin - HEADING / scale, margin, margin)
    draw = partial(_draw, scene, look, area, scale, found.survey.flow.title)
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    {"svg": _write_svg, "png": _write_png, "pdf": _write_pdf}[kind](buffer, area.size() * scale, draw)
    return bytes(buffer.data().data())


def _draw(scene: MapScene, look: Look, area: QRectF, scale: float, title: str, painter: QPainter) -> None:
    """Paints an area of the map so that it begins at the origin."""
    size = area.size() * scale
    camera = Camera(lambda: size.toSize(), lambda: None)
    camera.set_scale(scale)
    camera.centre = area.center()
    pieces = MapPainter(look, scene, camera, Selection())
    c = look.colours
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.fillRect(QRectF(0, 0, size.width(), size.height()), c.colour("ground"))
    painter.save()
    pieces.to_map(painter)
    for stroke in pieces.strokes(area):
        stroke(painter)
    painter.restore()
    painter.setPen(c.colour("ink"))
    painter.setFont(look.font(10, bold=True))
    heading = QRectF(MARGIN, MARGIN / 2, size.width() - 2 * MARGIN, HEADING)
    painter.drawText(heading, Qt.AlignmentFlag.AlignVCenter, title)
    pieces.paint_headings(painter)


def _write_svg(buffer: QBuffer, size: QSizeF, draw: Callable[[QPainter], None]) -> None:
    generator = QSvgGenerator(QSvgGenerator.SvgVersion.Svg11)
    generator.setOutputDevice(buffer)
    generator.setSize(size.toSize())
    generator.setViewBox(QRect(0, 0, size.toSize().width(), size.toSize().height()))
    generator.setTitle("Map")
    generator.setDescription("Levels in columns by crossings from the start")
    _paint_on(generator, draw)


def _write_png(buffer: QBuffer, size: QSizeF, draw: Callable[[QPainter], None]) -> None:
    scale = min(SHARP, (MOST_PIXELS / (size.width() * size.height())) ** 0.5)
    image = QImage(QSize(round(size.width() * scale), round(size.height() * scale)), QImage.Format.Format_RGB32)
    painter = QPainter(image)
    painter.scale(scale, scale)
    draw(painter)
    painter.end()
    image.save(buffer, "PNG")


def _write_pdf(buffer: QBuffer, size: QSizeF, draw: Callable[[QPainter], None]) -> None:
    writer = QPdfWriter(buffer)
    writer.setResolution(POINTS)
    writer.setPageSize(QPageSize(size, QPageSize.Unit.Point))
    writer.setPageMargins(QMarginsF(0, 0, 0, 0))
    writer.setTitle("Map")
    _paint_on(writer, draw)


def _paint_on(device: QSvgGenerator | QPdfWriter, draw: Callable[[QPainter], None]) -> None:
    painter = QPainter(device)
    draw(painter)
    painter.end()
