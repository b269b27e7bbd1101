"""Random set-ups for constructions: boxes, parts, rows, rounds and cut bodies before an eye."""

import msgspec
import numpy as np
from hypothesis import assume
from hypothesis import strategies as st

from isometron.document.model import Document
from isometron.view.placing import place_eye
from isometron.view.sheet import Sheet
from isometron.volumes.box import Box
from isometron.volumes.cut.body import uncut_because
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.marks.face_marks import DivideMark
from isometron.volumes.relations import Repeat
from isometron.volumes.turned import ProfileRing, Turned
from tests.strategies import profiles

TURNS, LEVEL = st.floats(12, 78), st.just(0.0)
sizes = st.floats(100, 2000).map(lambda x: round(x, 1))


@st.composite
def setups(draw, turns=TURNS, tilts=LEVEL, cube=False):
    """A box of any proportion before an eye above, across or below it; quarter turns of the box itself included."""
    eye = place_eye(
        height=draw(st.floats(-1500, 5000).map(lambda x: round(x, 1))),
        away=draw(st.floats(4000, 9000)),
        turn_deg=draw(turns),
        tilt_deg=draw(tilts),
        viewing_distance=draw(st.floats(250, 700)),
    )
    long = draw(sizes)
    box = Box(
        id="box",
        name="Box",
        corner=(draw(st.floats(-900, 900)), draw(st.floats(-900, 900)), draw(st.sampled_from([0.0, 350.0]))),
        size=(long, long, long) if cube else (long, draw(sizes), draw(sizes)),
        yaw_deg=draw(st.sampled_from([0.0, 90.0, 180.0])),
    )
    sheet = Sheet(width=420.0, height=297.0, centre_of_vision=(210.0, 150.0))
    return Document(sheet=sheet, eye=eye, volumes=(box,))


@st.composite
def parted(draw):
    document = draw(setups())
    box = document.volumes[0]
    cells = draw(st.lists(st.floats(0.3, 3.0), min_size=2, max_size=5))
    places = tuple(np.cumsum(cells)[:-1] / sum(cells))
    face = draw(st.integers(0, 3))
    border = draw(st.sampled_from([0.0, 20.0]))
    mark = DivideMark(face=face, across=places, border=border)
    return msgspec.structs.replace(document, volumes=(msgspec.structs.replace(box, marks=(mark,)),))


@st.composite
def rowed(draw):
    document = draw(setups())
    box = document.volumes[0]
    along = draw(st.sampled_from(["long", "wide"]))
    size = box.size[("long", "wide").index(along)]
    gap = draw(st.sampled_from([0.0, 0.25, 1.3])) * size
    pitch = (size + gap) * draw(st.sampled_from([1.0, -1.0]))
    row = Repeat(along=along, count=draw(st.integers(2, 4)), pitch=pitch, last=draw(st.sampled_from([0.0, 50.0])))
    return msgspec.structs.replace(document, volumes=(msgspec.structs.replace(box, copies=(row,)),))


@st.composite
def rounded(draw):
    document = draw(setups(tilts=draw(st.sampled_from([st.just(0.0), st.floats(-25.0, 25.0)]))))
    box = document.volumes[0]
    axle = draw(st.sampled_from(["wide", "high"]))
    wide = draw(st.floats(200.0, 1500.0))
    size = tuple(draw(st.floats(50.0, 900.0)) if name == axle else wide for name in ("long", "wide", "high"))
    rings = [
        ProfileRing(at=0.0, wide=1.0),
        ProfileRing(at=0.4, wide=draw(st.floats(0.2, 0.9))),
        ProfileRing(at=1.0, wide=0.7),
    ]
    copies = draw(
        st.sampled_from(
            [
                (),
                (Repeat(along="long", count=2, pitch=2.5 * wide),),
                (Repeat(along="long", count=2, pitch=-3.0 * wide),),
            ]
        )
    )
    volume = Turned(
        id="box",
        name="Round",
        corner=box.corner,
        size=size,
        axle=axle,
        profile=tuple(rings),
        face_rings=(0.6,),
        copies=copies,
    )
    return msgspec.structs.replace(document, volumes=(volume,))


@st.composite
def cut_by_views(draw):
    """A body cut by its side view, or by its front alone, with rounds, chamfers and bows among the corners."""
    document = draw(setups())
    box = document.volumes[0]
    fields = {name: getattr(box, name) for name in Box.__struct_fields__}
    view = draw(st.sampled_from(["side", "side", "front"]))
    body = CutBody(**fields | {"size": tuple(max(s, 300.0) for s in box.size)}, **{view: draw(profiles(view))})
    assume(not uncut_because(body))
    return msgspec.structs.replace(document, volumes=(body,))
