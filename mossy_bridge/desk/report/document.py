"""A report as a document of pages: what is written on them, with plans and the map as drawings that stay sharp."""

from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from itertools import groupby

from PyQt6.QtCore import QByteArray, QObject, QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import (
    QColor,
    QFont,
    QPagedPaintDevice,
    QPainter,
    QTextBlock,
    QTextBlockFormat,
    QTextCharFormat,
    QTextCursor,
    QTextDocument,
    QTextFormat,
    QTextLength,
    QTextObjectInterface,
    QTextOption,
    QTextTableFormat,
)
from PyQt6.QtPrintSupport import QPrinter
from PyQt6.QtSvg import QSvgRenderer

from mossy_bridge.appraisal.report.contents import Report, ReportLevel
from mossy_bridge.appraisal.report.drawing import plan_svg, transitions_svg
from mossy_bridge.appraisal.report.html import MOST_WITHOUT_CONTENTS, SEVERITIES, SIGNS
from mossy_bridge.desk.widgets.colours import LIGHT
from mossy_bridge.desk.widgets.given import given

DRAWING = QTextFormat.ObjectTypes.UserObject.value + 1
SVG, WIDE, HIGH, ABOVE = (QTextFormat.Property.UserProperty.value + at for at in range(4))
OBJECT = "\ufffc"
TEXT, SMALL, HEADING, TITLE = 9.5, 8.5, 14.0, 22.0
"""Points."""
HANGS = 9.0
"""Points by which the further lines of an entry are indented."""
LARGE = 100_000
"""Letters of a drawing that takes long to read."""
TITLE_ABOVE = 19.0
"""Points for the title above a drawing, which belongs to it, so that no page break comes between."""
FACE = "DejaVu Sans"
FOOT = 26.0
"""Points at the foot of a page for its number."""


Tell = Callable[[float], object]
"""Hears which share of the work is done, from 0 to 1."""


class Drawings(QObject, QTextObjectInterface):
    """Draws what is no text. Each is drawn as it is, in lines, however large."""

    def __init__(self, unit: float):
        super().__init__()
        self._unit = unit
        """Device units for a point."""
        self._read: dict[str, QSvgRenderer] = {}
        """The large drawings, read once: they are asked for again and again."""

    def renderer(self, svg: str) -> QSvgRenderer:
        """What draws a drawing."""
        found = self._read.get(svg)
        if found is None:
            found = QSvgRenderer(QByteArray(svg.encode("utf-8")))
            if len(svg) > LARGE:
                self._read[svg] = found
        return found

    def intrinsicSize(self, _doc: QTextDocument | None, _at: int, form: QTextFormat) -> QSizeF:
        high = form.doubleProperty(HIGH) + (TITLE_ABOVE if form.stringProperty(ABOVE) else 0)
        return QSizeF(form.doubleProperty(WIDE) * self._unit, high * self._unit)

    def drawObject(self, painter: QPainter | None, rect: QRectF, _doc: QTextDocument | None, _at: int,
                   form: QTextFormat) -> None:  # fmt: skip
        painter, title = given(painter), form.stringProperty(ABOVE)
        painter.save()
        if title:
            font = QFont(FACE)
            font.setPointSizeF(TEXT + 2)
            font.setBold(True)
            painter.setFont(font)
            painter.setPen(QColor(LIGHT.ink))
            painter.drawText(rect.topLeft() + QPointF(0, (TEXT + 3) * self._unit), title)
            rect = rect.adjusted(0, TITLE_ABOVE * self._unit, 0, 0)
        painter.setFont(QFont(FACE))
        self.renderer(form.stringProperty(SVG)).render(painter, rect)
        painter.restore()


class ReportPages:
    """Lays a report out on the pages of a device, and prints it. ``tell`` hears how far that is."""

    def __init__(self, report: Report, map_svg: str, device: QPagedPaintDevice, tell: Tell = lambda _share: None):
        self._report, self._map, self._device, self._tell = report, map_svg, device, tell
        self._unit = device.logicalDpiX() / 72
        self._document = QTextDocument()
        self._drawings = Drawings(self._unit)
        self._headings: list[tuple[str, int]] = []
        """What the table of contents names, and the place of its block."""
        self._leading: list[int] = []
        """The places of the headings just written, below which nothing stands yet."""
        self._led: list[tuple[int, int]] = []
        """The places of headings, and of what was written below them, in the part that is being written."""
        self._lay_out()

    # -- writing ---------------------------------------------------------------------------------------

    def _lay_out(self) -> None:
        document, device = self._document, self._device
        layout = given(document.documentLayout())
        layout.setPaintDevice(device)
        layout.registerHandler(DRAWING, self._drawings)
        font = QFont(FACE)
        font.setPointSizeF(TEXT)
        document.setDefaultFont(font)
        option = QTextOption()
        option.setWrapMode(QTextOption.WrapMode.WrapAtWordBoundaryOrAnywhere)
        document.setDefaultTextOption(option)
        document.setDocumentMargin(0)
        document.setPageSize(QSizeF(device.width(), device.height() - FOOT * self._unit))
        self._cursor = QTextCursor(document)
        self._write()
        self._number_contents()

    def _write(self) -> None:
        report = self._report
        with self._part():
            self._line(report.title, TITLE, bold=True, first=True)
            self._line(
                f"{SIGNS[report.mark]} {report.verdict}",
                TEXT + 2,
                colour=LIGHT.sound if report.mark == "sound" else LIGHT.broken,
            )
            self._has_contents = len(report.levels) > MOST_WITHOUT_CONTENTS
            if self._has_contents:
                self._line("Contents", HEADING, bold=True, above=14)
                self._contents = self._place()
                self._line("", TEXT)
            self._heading("Map", page=self._has_contents)
            self._draw(self._map)
        with self._part():
            if report.since:
                self._heading(f"Changes since {report.since}")
                self._list(report.changes or ["Nothing differs."])
            self._findings()
        for at, level in enumerate(report.levels):
            with self._part():
                if at == 0:
                    self._heading("Levels", page=True)
                self._level(level)
            self._tell((at + 1) / len(report.levels) / 2)
        with self._part():
            self._tables()
        self._tour()

    def _findings(self) -> None:
        self._heading("Findings")
        if not self._report.findings:
            self._line("Nothing to say.")
        for severity, words in SEVERITIES:
            found = [one for one in self._report.findings if one.severity == severity]
            if found:
                self._line(f"{words}: {len(found)}", bold=True, above=6)
                self._list([f"{one.message} {one.why}" for one in found])

    def _level(self, one: ReportLevel) -> None:
        self._headings.append((one.title, self._place()))
        drawn = plan_svg(one.level, self._report.flow.units.y == "down")
        self._line("" if drawn else one.title, TEXT + 2, bold=not drawn, above=12)
        self._insert(drawn, one.title)
        self._line(f"{one.about}; {one.reached}", SMALL, colour=LIGHT.dim)
        for words, lines in (("Ways in", one.ways_in), ("Ways out", one.ways_out), ("Deeds", one.deeds),
                             ("Findings", [finding.message for finding in one.findings])):  # fmt: skip
            if lines:
                self._line(words, bold=True, above=3)
                self._list(lines)
        if one.level.notes:
            self._line(one.level.notes, SMALL, colour=LIGHT.dim)

    def _tables(self) -> None:
        report = self._report
        self._heading("Facts", page=True)
        facts = [
            (one.name, one.about, "; ".join(f"{word}: {where}" for word, where in one.uses)) for one in report.facts
        ]
        self._table(("fact", "what it is", "where"), facts, (20, 35, 45))
        self._heading("Boards")
        boards = [f"{board.title}: {' · '.join(board.tiles) or 'no tiles'}" for board in report.boards]
        self._list(boards or ["There are none."])
        self._heading("Transitions")
        self._draw(transitions_svg(report.transitions))
        self._heading("Pace")
        walks = [
            (one.name, f"{one.minutes:.1f}", str(one.levels), f"{100 * one.share_between:.0f} %")
            for one in report.walks
        ]
        self._table(("walk", "minutes", "levels", "in transitions"), walks, (52, 16, 16, 16))
        self._heading("Promises")
        self._list([f"{words}: {kept}" for words, kept in report.promises] or ["None are made."])

    def _tour(self) -> None:
        report = self._report
        with self._part():
            self._heading("Tour")
            self._line(f"{report.tour_summary}." if report.tour else "There is none.")
        for _, walk in groupby(report.tour, lambda step: step.walk):
            with self._part():
                for one in walk:  # lines, for a table of thousands of rows takes many seconds
                    if one.step == 1:
                        self._line(f"Walk {one.walk}, from the start", bold=True, above=6)
                    changed = f"; {one.facts}" if one.facts else ""
                    words = f"{'☐' if one.first else '     '}  {one.step}. {one.do} → {one.place}{changed}"
                    self._line(words, SMALL, above=1)

    # -- pieces ----------------------------------------------------------------------------------------

    def _place(self) -> int:
        """Where the next block begins."""
        return self._cursor.position() + 1

    def _heading(self, text: str, page: bool = False) -> None:
        self._headings.append((text, self._place()))
        self._line(text, HEADING, bold=True, above=18, colour=LIGHT.sound, page=page)

    def _line(
        self, text: str, size: float = TEXT, *, bold: bool = False, colour: str = LIGHT.ink, above: float = 2,
        first: bool = False, page: bool = False, hangs: bool = False,
    ) -> None:  # fmt: skip
        """Writes a block; on a new ``page``, if it is to begin one; below what it begins with, if it ``hangs``."""
        block = QTextBlockFormat()
        block.setTopMargin(above * self._unit)
        if hangs:
            block.setLeftMargin(HANGS * self._unit)
            block.setTextIndent(-HANGS * self._unit)
        if page:
            self._leading.clear()
            block.setPageBreakPolicy(QTextFormat.PageBreakFlag.PageBreak_AlwaysBefore)
        form = QTextCharFormat()
        form.setFontPointSize(size)
        form.setFontWeight(QFont.Weight.Bold if bold else QFont.Weight.Normal)
        form.setForeground(QColor(colour))
        if first:
            self._cursor.setBlockFormat(block)
        else:
            self._cursor.insertBlock(block, form)
        self._cursor.insertText(text, form)
        if bold:
            self._leading.append(self._cursor.position())
        elif text:
            self._lead(self._cursor.position())

    def _lead(self, below: int) -> None:
        """The place of what stands below the headings that were written last."""
        if self._leading:
            self._led.append((self._leading[0], below))
            self._leading.clear()

    @contextmanager
    def _part(self) -> Iterator[None]:
        """Writes a part, then lets headings begin a page where what stands below them would be on the next one. It is
        laid out part by part: to lay out all that follows again for each such heading would take minutes."""
        self._cursor.beginEditBlock()
        yield
        self._cursor.endEditBlock()
        for heading, below in self._led:
            first = self._document.findBlock(heading)
            if self._page_of(first) < self._page_of(self._document.findBlock(below)):
                form = first.blockFormat()
                form.setPageBreakPolicy(QTextFormat.PageBreakFlag.PageBreak_AlwaysBefore)
                QTextCursor(first).setBlockFormat(form)
        self._led.clear()

    def _page_of(self, block: QTextBlock) -> int:
        """The page, from 0, on which a block begins."""
        top = given(self._document.documentLayout()).blockBoundingRect(block).top()
        first = given(block.layout()).lineAt(0).y()  # below the top where the line has gone to the next page
        hair = self._unit  # by which the first line of a page may begin above it
        return int((top + first + hair) // self._document.pageSize().height())

    def _draw(self, svg: str) -> None:
        if svg:
            self._line("")
            self._insert(svg)

    def _insert(self, svg: str, title: str = "") -> None:
        """A drawing, as large as it is, or as the page allows; with a title above that belongs to it."""
        if not svg:
            return
        size = self._drawings.renderer(svg).viewBoxF().size()
        page = self._document.pageSize() / self._unit
        size = size.scaled(
            QSizeF(min(size.width(), page.width() - 4), min(size.height(), page.height() * 0.8)),
            Qt.AspectRatioMode.KeepAspectRatio,
        )
        form = QTextCharFormat()
        form.setObjectType(DRAWING)
        form.setProperty(SVG, svg)
        form.setProperty(ABOVE, title)
        form.setProperty(WIDE, size.width())
        form.setProperty(HIGH, size.height())
        self._cursor.insertText(OBJECT, form)
        self._lead(self._cursor.position())

    def _list(self, lines: Sequence[str]) -> None:
        for line in lines:
            self._line(f"•  {line}", above=1, hangs=True)

    def _table(self, headings: Sequence[str], rows: Sequence[Sequence[str]], shares: Sequence[int]) -> None:
        if not rows:
            self._line("There are none.")
            return
        form = QTextTableFormat()
        form.setBorder(0)
        form.setCellPadding(2 * self._unit)
        form.setWidth(QTextLength(QTextLength.Type.PercentageLength, 100))
        form.setColumnWidthConstraints([QTextLength(QTextLength.Type.PercentageLength, share) for share in shares])
        form.setHeaderRowCount(0)
        self._line("", 2)
        table = given(self._cursor.insertTable(len(rows) + 1, len(headings), form))
        for row, cells in enumerate((headings, *rows)):
            for column, text in enumerate(cells):
                char = QTextCharFormat()
                char.setFontPointSize(SMALL)
                char.setForeground(QColor(LIGHT.dim if row == 0 else LIGHT.ink))
                table.cellAt(row, column).firstCursorPosition().insertText(text, char)
        self._lead(table.cellAt(0, 0).firstCursorPosition().position())
        self._cursor.movePosition(QTextCursor.MoveOperation.End)

    # -- the table of contents -------------------------------------------------------------------------

    def _number_contents(self) -> None:
        """Writes the contents with the pages on which headings stand: once to make room, once with what is so then."""
        if not self._has_contents:
            return
        cursor = QTextCursor(self._document)
        length = 0
        for _ in range(2):
            lines = list(self._contents_lines(length))
            cursor.setPosition(self._contents)
            cursor.setPosition(self._contents + length, QTextCursor.MoveMode.KeepAnchor)
            text = "\u2028".join(lines)
            form = QTextCharFormat()
            form.setFontPointSize(SMALL)
            cursor.insertText(text, form)
            length = len(text)

    def _contents_lines(self, shift: int) -> Iterator[str]:
        for text, place in self._headings:
            page = self._page_of(self._document.findBlock(place + shift)) + 1
            yield f"{page:>5}   {text}"

    # -- printing --------------------------------------------------------------------------------------

    def write(self) -> None:
        """Puts all pages on the device."""
        painter = QPainter(self._device)
        try:
            count = self._document.pageCount()
            for page in range(count):
                if page:
                    self._device.newPage()
                self._write_page(painter, page, count)
                self._tell((1 + (page + 1) / count) / 2)
        except BaseException:
            if isinstance(self._device, QPrinter):
                self._device.abort()  # else what there is would be printed
            raise
        finally:
            painter.end()

    def _write_page(self, painter: QPainter, page: int, count: int) -> None:
        size = self._document.pageSize()
        # a point less, for tall letters of the next page reach above it
        shown = QRectF(0, page * size.height(), size.width(), size.height() - self._unit)
        painter.save()
        painter.translate(0, -page * size.height())
        self._document.drawContents(painter, shown)
        painter.restore()
        font = QFont(FACE)
        font.setPointSizeF(SMALL)
        painter.setFont(font)
        painter.setPen(QColor(LIGHT.dim))
        foot, below = QRectF(0, size.height(), size.width(), FOOT * self._unit), Qt.AlignmentFlag.AlignBottom
        painter.drawText(foot, Qt.AlignmentFlag.AlignLeft | below, self._report.title)
        painter.drawText(foot, Qt.AlignmentFlag.AlignRight | below, f"{page + 1} / {count}")
