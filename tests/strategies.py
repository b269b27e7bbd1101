"""Random eyes, boxes and documents: wild on purpose, but always within the document's rules."""

from hypothesis import strategies as st

from isometron.document.model import Document, Show
from isometron.view.eye import Eye
from isometron.view.sheet import Sheet
from isometron.volumes.box import Box
from isometron.volumes.turned import ProfileRing, Turned

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
