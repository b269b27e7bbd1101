"""The register of demos: a new one is one new file and one line here."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from isometron.demos.delivery_van import delivery_van
from isometron.demos.ember_lantern import ember_lantern
from isometron.demos.perch_stool import perch_stool
from isometron.demos.snapshots import market_snapshot, vessel_on_a_shelf
from isometron.demos.stall_row import stall_row
from isometron.demos.tea_cart import tea_cart
from isometron.demos.three_rows import three_rows
from isometron.document.model import Document
from isometron.errors import IsometronError
from isometron.wording import mark, tr

__all__ = ["DEMOS", "Demo", "demo"]


@dataclass(frozen=True)
class Demo:
    """A demo: its title, known before it is built, and what builds it."""

    title: str
    build: Callable[[], Document]


DEMOS: dict[str, Demo] = {
    "tea-cart": Demo(mark("Tea cart"), tea_cart),
    "perch-stool": Demo(mark("Perch stool"), perch_stool),
    "ember-lantern": Demo(mark("Ember lantern"), ember_lantern),
    "delivery-van": Demo(mark("Delivery van"), delivery_van),
    "stall-row": Demo(mark("Stall row"), stall_row),
    "three-rows": Demo(mark("Practice: above, across, below"), three_rows),
    "market-snapshot": Demo(mark("Market snapshot"), market_snapshot),
    "vessel-on-a-shelf": Demo(mark("Vessel on a shelf"), vessel_on_a_shelf),
}


def demo(name: str) -> Document:
    """Return a demo document; raises `IsometronError` naming the known ones."""
    if name not in DEMOS:
        raise IsometronError(
            tr("There is no demo called {name!r}. Known demos: {names}.", name=name, names=", ".join(DEMOS))
        )
    return DEMOS[name].build()
