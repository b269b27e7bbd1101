"""The register of stages, in the order of the work: a name, its key, and what its tip says. No key of a stage anywhere else."""

from __future__ import annotations

from dataclasses import dataclass

from isometron.wording import mark

__all__ = ["STAGES", "Stage"]


@dataclass(frozen=True)
class Stage:
    """A stage; name and tip are looked up in the catalogue when they are shown."""

    name: str
    key: str
    tip: str


STAGES = (
    Stage(mark("Eye"), "F2", mark("Where the eye is")),
    Stage(mark("Block"), "F3", mark("Draw and change volumes")),
    Stage(mark("Divide"), "F4", mark("Parts, rows, marks, plain views")),
    Stage(mark("Rounds"), "F5", mark("Rings, wheels, turned bodies")),
    Stage(mark("Check"), "F6", mark("What is worth a warning")),
    Stage(mark("Hand on"), "F7", mark("Print, export, measures")),
)
