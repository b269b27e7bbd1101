"""Printing at true scale, with the check bar; the preview is the same painting."""

from __future__ import annotations

from PyQt6.QtCore import QMarginsF, QSizeF
from PyQt6.QtGui import QPageLayout, QPageSize, QPainter
from PyQt6.QtPrintSupport import QPrintDialog, QPrinter, QPrintPreviewDialog
from PyQt6.QtWidgets import QWidget

from isometron.progress import CancelledError, Tell, unheard
from isometron.solve.drawing import Drawing
from isometron.surfaces.page import sheet_page, with_check_bar
from isometron.surfaces.painters import qt_page

__all__ = ["ask_printer", "paint_page", "preview", "printer_for"]


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


def paint_page(drawing: Drawing, printer: QPrinter, tell: Tell = unheard) -> None:
    """Paint the sheet on one page; a millimetre of the sheet is a millimetre of paper."""
    painter = QPainter(printer)
    try:
        qt_page.paint_page(painter, with_check_bar(sheet_page(drawing)), printer.resolution() / 25.4, tell)
    except CancelledError:
        printer.abort()
        raise
    finally:
        painter.end()


def ask_printer(drawing: Drawing, parent: QWidget) -> QPrinter | None:
    """Ask for a printer; None when nothing is to be printed."""
    printer = printer_for(drawing)
    return printer if QPrintDialog(printer, parent).exec() else None


def preview(drawing: Drawing, parent: QWidget) -> None:
    """Show how the page will come out."""
    printer = printer_for(drawing)
    dialog = QPrintPreviewDialog(printer, parent)
    dialog.paintRequested.connect(lambda page: paint_page(drawing, page))
    dialog.exec()
