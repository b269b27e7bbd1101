"""Printing at true scale, with the check bar; the preview is the same painting."""

from __future__ import annotations

from PyQt6.QtCore import QMarginsF, QSizeF
from PyQt6.QtGui import QPageLayout, QPageSize, QPainter
from PyQt6.QtPrintSupport import QPrintDialog, QPrinter, QPrintPreviewDialog
from PyQt6.QtWidgets import QWidget

from isometron.solve.drawing import Drawing
from isometron.surfaces.png import paint_sheet
from isometron.surfaces.sheet_marks import sheet_marks

__all__ = ["paint_page", "preview", "print_sheet", "printer_for"]


def printer_for(drawing: Drawing) -> QPrinter:
    """Return a printer whose page is the sheet, without margins of its own."""
    sheet = drawing.document.sheet
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    short, long = sorted((sheet.width, sheet.height))
    size = QPageSize(QSizeF(short, long), QPageSize.Unit.Millimeter)
    way = QPageLayout.Orientation.Landscape if sheet.landscape else QPageLayout.Orientation.Portrait
    printer.setPageLayout(QPageLayout(size, way, QMarginsF(0, 0, 0, 0)))
    printer.setFullPage(True)
    printer.setDocName(drawing.document.title)
    return printer


def paint_page(drawing: Drawing, printer: QPrinter) -> None:
    """Paint the sheet on one page; a millimetre of the sheet is a millimetre of paper."""
    painter = QPainter(printer)
    paint_sheet(painter, sheet_marks(drawing), printer.resolution() / 25.4)
    painter.end()


def print_sheet(drawing: Drawing, parent: QWidget) -> bool:
    """Ask for a printer and print; False when nothing was printed."""
    printer = printer_for(drawing)
    if not QPrintDialog(printer, parent).exec():
        return False
    paint_page(drawing, printer)
    return True


def preview(drawing: Drawing, parent: QWidget) -> None:
    """Show how the page will come out."""
    printer = printer_for(drawing)
    dialog = QPrintPreviewDialog(printer, parent)
    dialog.paintRequested.connect(lambda page: paint_page(drawing, page))
    dialog.exec()
