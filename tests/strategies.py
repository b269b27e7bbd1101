"""Random eyes, boxes and documents: wild on purpose, but always within the document's rules."""

import math
from functools import cache

import msgspec
from hypothesis import strategies as st
from jsonschema.validators import validator_for

from isometron.document.model import Document, Show
from isometron.document.store.files import schema
from isometron.view.eye import Eye
from isometron.view.sheet import Sheet
from isometron.volumes.arch import Arch
from isometron.volumes.box import Box
from isometron.volumes.cut.begin import corners_cut, counted_off, leaning
from isometron.volumes.cut.body import uncut_because
from isometron.volumes.cut.profiles import VIEWS, CutBody, CutProfile, ProfileCorner
from isometron.volumes.framed import Framed, Rail
from isometron.volumes.marks.face_marks import (
    ArchMark,
    CourseMark,
    CurveMark,
    CurvePoint,
    DivideMark,
    OpeningMark,
    PathMark,
    RingMark,
    TickMark,
)
from isometron.volumes.marks.holds import Apart, Measured
from isometron.volumes.relations import Mirror, Repeat
from isometron.volumes.turned import PROFILES, ProfileRing, Turned

places = st.floats(-3000, 3000).map(lambda x: round(x, 2))
heights = st.floats(-500, 2500).map(lambda x: round(x, 2))
sizes = st.floats(5, 1500).map(lambda x: round(x, 2))
angles = st.sampled_from([0.0, 0.0, 30.0, 45.0, 90.0, -17.3])

eyes = st.builds(
    Eye,
    position=st.tuples(places, st.floats(-6000, -500).map(lambda x: round(x, 2)), heights),
    yaw_deg=st.floats(-60, 60),
    pitch_deg=st.sampled_from([0.0, 0.0, 12.5, -30.0]),
    roll_deg=st.sampled_from([0.0, 0.0, 5.0]),
    viewing_distance=st.floats(100, 900),
)

names = st.text(st.characters(codec="utf-8", exclude_categories=("C", "Z")), min_size=1, max_size=30)


@st.composite
def boxes(draw, number=0):
    return Box(
        id=f"v{number}",
        name=draw(names),
        corner=(draw(places), draw(places), draw(heights)),
        size=(draw(sizes), draw(sizes), draw(sizes)),
        yaw_deg=draw(angles),
        pitch_deg=draw(angles),
        roll_deg=draw(st.sampled_from([0.0, 0.0, 20.0])),
        see_through=draw(st.booleans()),
    )


@st.composite
def rounds(draw, number=0):
    """A turned body of any profile inside a box of any size."""
    box = draw(boxes(number))
    shared = {name: getattr(box, name) for name in Box.__struct_fields__}
    rings = draw(
        st.lists(st.tuples(st.floats(0, 1), st.floats(0, 1)), min_size=2, max_size=5, unique_by=lambda r: r[0])
    )
    runs = st.sampled_from(["straight", "round", "smooth"])
    profile = tuple(ProfileRing(at=at, wide=wide, then=draw(runs)) for at, wide in sorted(rings))
    return Turned(**shared, axle=draw(st.sampled_from(["long", "wide", "high"])), profile=profile,
                  face_rings=tuple(draw(st.lists(st.floats(0, 1), max_size=2))), spokes=draw(st.integers(0, 5)))  # fmt: skip


parts = st.floats(0.05, 0.95).map(lambda x: round(x, 3))
held = st.one_of(
    parts,
    st.builds(Measured, from_=st.sampled_from(["start", "middle", "end"]), mm=st.floats(0.0, 60.0),
              to=st.sampled_from(["middle", "edge"])),
)  # fmt: skip
steps = st.one_of(parts, st.builds(Apart, by=st.sampled_from(["pitch", "gap"]), mm=st.floats(-90.0, 90.0)))
marks = st.one_of(
    st.builds(DivideMark, face=st.integers(0, 5), across=st.tuples(held), up=st.tuples(held), soft=st.booleans(),
              border=st.sampled_from([0.0, 2.0]), diagonals=st.booleans()),
    st.builds(TickMark, edge=st.integers(0, 11), parts=st.tuples(held)),
    st.builds(RingMark, face=st.integers(0, 5), at=st.tuples(held, held), diameter=st.floats(2.0, 300.0),
              inner=st.just((0.5,)), depth=st.sampled_from([0.0, 3.0, -20.0]), divisions=st.integers(0, 5),
              sweep_deg=st.sampled_from([360.0, 120.0]), count=st.integers(1, 3), step=st.tuples(steps, steps)),
    st.builds(ArchMark, face=st.integers(0, 3), at=st.tuples(held, st.just(0.0)), wide=st.floats(5.0, 300.0),
              high=st.floats(5.0, 300.0), form=st.sampled_from(["half-round", "segmental", "pointed"])),
    st.builds(OpeningMark, face=st.integers(0, 5), at=st.tuples(held, held), wide=st.floats(5.0, 300.0), high=st.floats(5.0, 300.0),
              form=st.sampled_from(["rectangle", "ring", "pointed", "inset"]), inset=st.floats(1.0, 40.0), round=st.sampled_from([0.0, 2.0]),
              goes=st.sampled_from(["pocket", "wall", "through"]), depth=st.floats(1.0, 50.0), bars=st.just((1, 1)),
              bar=st.sampled_from([0.0, 3.0]), frame=st.sampled_from([0.0, 4.0]), mirrored=st.booleans()),
    st.builds(CourseMark, face=st.integers(0, 5), pattern=st.sampled_from(["bricks", "tiles", "planks", "squares", "slats"]),
              long=st.floats(20.0, 300.0), high=st.floats(10.0, 200.0), joint=st.sampled_from([0.0, 4.0]), up=st.booleans()),
    st.builds(CurveMark, face=st.integers(0, 5), closed=st.booleans(), mirrored=st.booleans(),
              points=st.lists(st.builds(CurvePoint, at=st.tuples(held, held), then=st.sampled_from(["straight", "smooth"])),
                              min_size=2, max_size=4).map(tuple)),
    st.builds(PathMark, across=st.sampled_from(["long", "wide", "high"]), at=parts,
              points=st.lists(st.tuples(parts, parts), min_size=2, max_size=4, unique=True).map(tuple),
              smooth=st.booleans(), carried=st.booleans()),
)  # fmt: skip
leans = st.floats(-0.6, 0.9).map(lambda x: round(x, 3))
lengths = st.tuples(*[st.floats(0.0, 400.0).map(lambda x: round(x, 2))] * 4)
NOTCHED = ((0, 0), (3, 0), (3, 3), (2, 3), (2, 1), (1, 1), (1, 3), (0, 3))
rows = st.builds(
    Repeat,
    along=st.sampled_from(["long", "wide", "high"]),
    count=st.integers(2, 4),
    pitch=st.floats(-900.0, 900.0).filter(lambda p: abs(p) > 1.0),
)


@st.composite
def profiles(draw, view):
    """A star of corners about the middle, which cannot cross itself, some of them cut, some sides bowed."""
    count = draw(st.integers(3, 7))
    start = draw(st.floats(0.0, 1.0))
    found = []
    for k in range(count):
        angle = 2 * math.pi * (k + start + draw(st.floats(-0.3, 0.3))) / count
        far = draw(st.floats(0.25, 0.5)) / max(abs(math.cos(angle)), abs(math.sin(angle)))
        at = tuple(round(min(max(0.5 + far * way(angle), 0.0), 1.0), 4) for way in (math.cos, math.sin))
        how = draw(st.sampled_from(["sharp", "sharp", "round", "chamfer", "bow"]))
        cut = {
            "round": {"round": 8.0},
            "chamfer": {"chamfer": 8.0},
            "bow": {"bow": draw(st.sampled_from([-0.3, 0.2]))},
        }
        found.append(ProfileCorner(at=at, **cut.get(how, {})))
    return CutProfile.through(found, alike=False)


@st.composite
def cut_bodies(draw, shared):
    """A body cut by one to three profiles that can all be used."""
    views = draw(st.sets(st.sampled_from(VIEWS), min_size=1))
    return _cut(shared, **{view: draw(profiles(view)) for view in sorted(views)})


def _cut(shared, **profiles):
    """A cut body without the profiles that make no outline."""
    volume = CutBody(**shared, **profiles)
    return msgspec.structs.replace(volume, **dict.fromkeys(view for view, _ in uncut_because(volume)))


KINDS = ("box", "leaning", "corners", "counted", "arch", "frame", "turned", "cut")
IN_PIECES = tuple(kind for kind in KINDS if kind != "cut")
"""Kinds whose bodies are hidden behind as convex pieces."""


@st.composite
def shaped(draw, number=0, kinds=KINDS):
    """A volume of any kind, or of some, with marks on it, copies and a mirror image."""
    box = draw(boxes(number))
    shared = {name: getattr(box, name) for name in Box.__struct_fields__} | {
        "marks": tuple(draw(st.lists(marks, max_size=2))),
        "copies": tuple(draw(st.lists(rows, max_size=1))),
        "mirror": draw(st.sampled_from([None, None, Mirror(), Mirror(across="long")])),
    }
    kind = draw(st.sampled_from(kinds))
    if kind == "cut":
        return draw(cut_bodies(shared))
    if kind == "leaning":
        sides = {"side": leaning(draw(leans), draw(leans)), "front": leaning(draw(leans), draw(leans))}
        return _cut(shared, **sides)
    if kind == "corners":
        view = draw(st.sampled_from(VIEWS))
        return _cut(shared, **{view: corners_cut(draw(lengths), round_=draw(st.booleans()))})
    if kind == "counted":
        return _cut(shared, **{draw(st.sampled_from(VIEWS)): counted_off(3, 3, NOTCHED)})
    if kind == "arch":
        return Arch(**shared, through=draw(st.sampled_from(["long", "wide", "high"])),
                    form=draw(st.sampled_from(["half-round", "segmental", "pointed"])), pier=draw(st.floats(1.0, 200.0)),
                    crown=draw(st.floats(1.0, 200.0)), band=draw(st.booleans()), hangs_down=draw(st.booleans()))  # fmt: skip
    if kind == "frame":
        rails = tuple(Rail(at=at, high=12.0, thick=6.0) for at in sorted(draw(st.sets(parts, max_size=2))))
        return Framed(**shared, leg=(10.0, 14.0), inset=draw(st.sampled_from([0.0, 5.0])), top=8.0, rails=rails)
    if kind == "turned":
        return Turned(**shared, axle=draw(st.sampled_from(["long", "wide", "high"])), profile=PROFILES["bottle"],
                      steer_deg=draw(angles), squared=draw(st.booleans()))  # fmt: skip
    return Box(**shared)


@st.composite
def documents(draw, most=6, least=0, square=False):
    count = draw(st.integers(least, most))
    return Document(
        title=draw(names),
        unit=draw(st.sampled_from(["mm", "cm", "m", "in"])),
        sheet=draw(
            st.sampled_from(
                [
                    Sheet(width=420.0, height=297.0, centre_of_vision=(210.0, 180.0)),
                    Sheet(width=210.0, height=297.0, centre_of_vision=(-40.0, 400.0)),
                ]
            )
        ),
        eye=draw(eyes),
        show=draw(st.builds(Show, hidden=st.sampled_from(["dashed", "left out"]), construction=st.booleans())),
        volumes=tuple(draw(boxes(n) if square else st.one_of(boxes(n), boxes(n), rounds(n))) for n in range(count)),
    )


@cache
def file_rules():
    """What a file is held to, by the schema that ships: the schema is looked through once, not with every document."""
    rules = schema()
    kind = validator_for(rules)
    kind.check_schema(rules)
    return kind(rules)
