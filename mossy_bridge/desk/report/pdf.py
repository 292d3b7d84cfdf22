"""A report as a PDF."""

from PyQt6.QtCore import QBuffer, QIODevice, QMarginsF
from PyQt6.QtGui import QPageLayout, QPageSize, QPdfWriter

from mossy_bridge.appraisal.report.contents import Report
from mossy_bridge.desk.report.document import ReportPages, Tell

MARGIN_MM = 15.0
RESOLUTION = 300


def report_pdf(report: Report, map_svg: str, tell: Tell = lambda _share: None) -> bytes:
    """The pages, A4; ``tell`` hears how far it is."""
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setTitle(report.title)
    writer.setCreator("Mossy Bridge")
    writer.setResolution(RESOLUTION)
    writer.setPageSize(QPageSize(QPageSize.PageSizeId.A4))
    writer.setPageMargins(QMarginsF(MARGIN_MM, MARGIN_MM, MARGIN_MM, MARGIN_MM), QPageLayout.Unit.Millimeter)
    ReportPages(report, map_svg, writer, tell).write()
    return bytes(buffer.data().data())
