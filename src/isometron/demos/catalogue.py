"""The register of demos: a new one is one new file and one line here."""

from __future__ import annotations

from collections.abc import Callable

from isometron.demos.ember_lantern import ember_lantern
from isometron.demos.perch_stool import perch_stool
from isometron.demos.stall_row import stall_row
from isometron.demos.tea_cart import tea_cart
from isometron.demos.three_rows import three_rows
from isometron.document.model import Document
from isometron.errors import IsometronError
from isometron.wording import tr

__all__ = ["DEMOS", "demo"]

DEMOS: dict[str, Callable[[], Document]] = {
    "tea-cart": tea_cart,
    "perch-stool": perch_stool,
    "ember-lantern": ember_lantern,
    "stall-row": stall_row,
    "three-rows": three_rows,
}


def demo(name: str) -> Document:
    """Return a demo document; raises `IsometronError` naming the known ones."""
    if name not in DEMOS:
        raise IsometronError(
            tr("There is no demo called {name!r}. Known demos: {names}.", name=name, names=", ".join(DEMOS))
        )
    return DEMOS[name]()
