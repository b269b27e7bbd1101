"""The register of tools: what the pencil can do, with its key and the stage it stands in. Each is a deed too."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from importlib import import_module
from typing import Any

from isometron.desk.board.tool_in_hand import MakeTool
from isometron.desk.deeds.deed import Deed, Hint, Topic
from isometron.tools.block import block_tool
from isometron.tools.by_eye import by_eye_tool
from isometron.tools.joiner import join_tool
from isometron.tools.marking import divide_tool, lay_tool
from isometron.tools.measure import measure_tool
from isometron.tools.round import round_tool
from isometron.wording import mark

__all__ = ["DRAWING", "TOOLS", "ToolEntry"]


@dataclass(frozen=True)
class ToolEntry:
    """A tool of the register: words and tip for its button, its key, its stage, and what makes it for a desk.

    makes : given the body of its stage, which holds what the tool is set to; None for the bare pointer; section : the place in
    its stage that it belongs to, which is opened with it; empty for the stage itself; once : whether it is laid aside after one deed.
    """

    name: str
    words: str
    tip: str
    key: str
    stage: str
    makes: Callable[[Any], MakeTool] | None
    on_card: str
    section: str = ""
    once: bool = False


def _later(module: str, name: str) -> Callable[[Any], MakeTool]:
    """Return what takes a tool from its module when it is first taken up: it needs much that others do not."""
    return lambda _: getattr(import_module(f"isometron.tools.{module}"), name)


def _planned(module: str, name: str, section: str) -> Callable[[Any], MakeTool]:
    """Return what takes a tool from its module, and gives it what a section of its stage is set to at every moment."""
    return lambda stage: (
        lambda context: getattr(import_module(f"isometron.tools.{module}"), name)(
            context, getattr(stage, section).plan
        )
    )


TOOLS: dict[str, ToolEntry] = {
    tool.name: tool
    for tool in (
        ToolEntry("point", mark("Point at"), mark("Select volumes by pointing at them; Shift adds"), "P", "Block", None,
                  mark("point at volumes")),
        ToolEntry("block", mark("Pull a block"), mark("Three pulls: length, width, height"), "B", "Block",
                  lambda _: block_tool, mark("pull a block: three pulls")),
        ToolEntry("join", mark("Carry to a face"),
                  mark("Drag a volume to a face of another one: from then on it is joined to it"), "J", "Block",
                  lambda _: join_tool, mark("carry a volume to a face: it is joined")),
        ToolEntry("by_eye", mark("Cube by eye"), mark("Draw a cube without figures, and see how far off it is"), "E",
                  "Block", lambda _: by_eye_tool, mark("a cube by eye, judged")),
        ToolEntry("measure", mark("Measure"), mark("True and drawn distance between any two points"), "M", "Block",
                  lambda _: measure_tool, mark("measure between two points")),
        ToolEntry("divide", mark("Divide"), mark("Click faces and edges to part them as set below"), "D", "Divide",
                  lambda stage: lambda context: divide_tool(context, stage.plan),
                  mark("divide faces and edges by a click")),
        ToolEntry("round", mark("Pull a round"), mark("A ring on the ground or on a face, then its height"), "R",
                  "Rounds", lambda _: round_tool, mark("pull a round: ring, then height")),
        ToolEntry("outline", mark("Trace an outline"),
                  mark("A turned body: a pull across its foot, then points up one side of its outline"), "Q", "Rounds",
                  _later("outline", "outline_tool"), mark("a turned body by its outline")),
        ToolEntry("lay", mark("Lay on a face"), mark("A ring, hole, button, dial or arch, as chosen below"), "A",
                  "Rounds", lambda stage: lambda context: lay_tool(context, stage.on_face.plan),
                  mark("lay a ring or an arch on a face")),
        ToolEntry("by_ring", mark("Wheel by its ring"), mark("Draw the ellipse you want to see; the wheel that stands nearest to it is set"),
                  "I", "Rounds", _later("form.wheel", "wheel_tool"), mark("a wheel by the ring one wants to see")),
        ToolEntry("opening", mark("Cut an opening"), mark("Pull it on a face from corner to corner, as set below"), "W", "Form",
                  _planned("form.opening", "opening_tool", "opening"), mark("cut an opening into a face")),
        ToolEntry("line", mark("Draw a line"), mark("Point by point on a face or a round side; Enter ends it"), "L", "Form",
                  _planned("form.line", "line_tool", "line"), mark("draw a line on a face or a round side")),
        ToolEntry("courses", mark("Lay courses"), mark("Click the faces that are filled with bricks, tiles, planks, as set below"), "U",
                  "Form", _planned("form.courses", "courses_tool", "courses"), mark("bricks, tiles, planks on a face")),
        ToolEntry("rounded", mark("Round an edge"), mark("Pull in from an edge, or click it; on a face all its edges"), "S", "Form",
                  _planned("form.rounded", "rounded_tool", "rounded"), mark("round an edge, or all of a face")),
        ToolEntry("plane", mark("Set a plane"), mark("Through three places, through an edge, or square to a line"), "K", "Form",
                  _planned("form.plane", "plane_tool", "planes"), mark("a plane through three places")),
        ToolEntry("edge", mark("Mark an edge"), mark("Pull along an edge of the picture; the eye is found from such marks"),
                  "G", "Eye", _later("picture_marks", "edge_tool"), mark("mark an edge of a picture"), "photograph"),
        ToolEntry("ring", mark("Mark a ring"), mark("Three to five points on a ring of the picture"), "O", "Eye",
                  _later("picture_marks", "ring_tool"), mark("mark a ring of a picture"), "photograph"),
        ToolEntry("corner", mark("Leading corner"), mark("Where the nearest corner stands on the ground"), "F", "Eye",
                  _later("picture_marks", "corner_tool"), mark("the leading corner of a picture"), "photograph", once=True),
    )
}  # fmt: skip


def _taking(name: str) -> Callable[[Any], None]:
    return lambda desk: desk.take_tool(name)


DRAWING = Topic(
    mark("Drawing"),
    (
        *(Deed(tool.name, tool.words, tool.tip, _taking(tool.name), (tool.key,), on_card=tool.on_card)
          for tool in TOOLS.values()),
        Deed("views", mark("Plain views…"), mark("Side, front and plan"), lambda desk: desk.show_views(), ("V",),
             on_card=mark("side, front and plan")),
    ),
    (
        Hint(mark("digits, Enter"), mark("the running pull exactly so long")),
        Hint(mark("arrows, Space"), mark("the pencil by keys; Shift in small steps")),
        Hint(mark("Shift"), mark("move along one direction only")),
        Hint(mark("Escape"), mark("one step back, always")),
    ),
)  # fmt: skip
