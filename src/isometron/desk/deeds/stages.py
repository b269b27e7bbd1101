"""Opening a stage is a deed: one for each of the register, by its key."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from isometron.desk.deeds.deed import Deed, Topic
from isometron.desk.stages.register import STAGES
from isometron.wording import mark

__all__ = ["OPENING"]


def _opening(name: str) -> Callable[[Any], None]:
    return lambda desk: desk.stages.open(name)


OPENING = Topic(
    mark("Stages"),
    tuple(
        Deed(f"stage {stage.name}", stage.name, stage.tip, _opening(stage.name), (stage.key,), on_card=stage.name)
        for stage in STAGES
    ),
)
