"""The register of stages, in the order of the work. No number or key of a stage stands anywhere else."""

from __future__ import annotations

from dataclasses import dataclass

from isometron.wording import mark, tr

__all__ = ["STAGES", "Stage", "stage_words"]


@dataclass(frozen=True)
class Stage:
    """A stage; name and tip are looked up in the catalogue when they are shown.

    home : the module whose ``make(desk)`` gives its body, loaded when the stage is first wanted; shows : what it asks for on
    the board while it is open, overlays or grips by their names.
    """

    name: str
    key: str
    tip: str
    home: str
    shows: tuple[str, ...] = ()


_HERE = __package__
STAGES = (
    Stage(mark("Eye"), "F2", mark("Where the eye is"), f"{_HERE}.eye.stage"),
    Stage(mark("Block"), "F3", mark("Draw and change volumes"), f"{_HERE}.block.stage"),
    Stage(mark("Divide"), "F4", mark("Parts, rows, marks, plain views"), f"{_HERE}.divide.stage"),
    Stage(mark("Rounds"), "F5", mark("Rings, wheels, turned bodies"), f"{_HERE}.rounds.stage", ("rings",)),
    Stage(mark("Form"), "F6", mark("Openings, hollow bodies, lines"), f"{_HERE}.form.stage"),
    Stage(mark("Check"), "F8", mark("What is worth a warning"), f"{_HERE}.check.stage", ("cautions",)),
    Stage(mark("Hand on"), "F9", mark("Print, export, measures"), f"{_HERE}.hand_on.stage"),
)


def stage_words(name: str) -> str:
    """Return how a stage is referred to: its number, name and key."""
    number = next(k for k, stage in enumerate(STAGES, start=1) if stage.name == name)
    return tr("{number} {name} ({key})", number=number, name=tr(name), key=STAGES[number - 1].key)
