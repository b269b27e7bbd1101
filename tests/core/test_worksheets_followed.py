"""A reader with the printed words alone lands on the drawing: every school, from random set-ups, no picture and no program."""

import msgspec
import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from isometron.construct import ruler, sentences
from isometron.construct.outcome import Construction
from isometron.construct.schools import SCHOOLS, construct
from isometron.demos.catalogue import demo
from isometron.document.edits import change_document
from isometron.document.lengths.ruler import Ruler
from isometron.solve import ruler_words
from tests.set_ups import cut_by_views, parted, rounded, rowed, setups
from tests.worksheet_reader import LostError, Reader, TooFineError

LEVEL, PARALLEL, TILTED = setups(), setups(turns=st.sampled_from([0.0, 90.0])), setups(tilts=st.floats(-45.0, -15.0))
WAYS = {
    "plan": LEVEL, "measuring": LEVEL, "diagonal": LEVEL, "height": LEVEL, "one-point": PARALLEL, "by-guess": PARALLEL,
    "three-point": TILTED, "turn": setups(cube=True), "parts": parted(), "parts-line": parted(), "row": rowed(), "row-line": rowed(),
    "row-ruler": rowed(), "side-view": cut_by_views(), "side-shares": cut_by_views(),
} | dict.fromkeys(("ring-4", "ring-8", "ring-12", "template", "ring-inner", "stack", "wheels", "slide"), rounded())  # fmt: skip
BOX = ("plan", "measuring", "diagonal", "one-point", "by-guess", "three-point")


def followed(document, done):
    """The reader's points, and how far each is from the program's, mm; points that lie far off count by their distance."""
    reader = Reader(document.sheet.width, document.sheet.height)
    for step in done.steps:
        reader.follow(step.sentence)
    left, lower, _, _ = document.sheet.rectangle
    marked = {spot.name: spot for step in done.steps for spot in step.points if not spot.name.startswith("way ")}
    assert set(reader.points) == set(marked), "all that is drawn is said, and nothing else"
    off = {}
    for name, spot in marked.items():
        x, y = reader.points[name]
        off[name] = float(np.hypot(spot.u - left - x, spot.v - lower - y))
    return reader, marked, off


def at_ends(done, marked, off):
    """How far the last points of the construction are off, mm."""
    ends = list(done.ends.values())
    here = [name for name, spot in marked.items() if any(np.hypot(*np.subtract(spot.at, end)) < 1e-9 for end in ends)]
    assert all(any(np.hypot(*np.subtract(marked[name].at, end)) < 1e-9 for name in here) for end in ends)
    return max((off[name] for name in here), default=0.0)


@pytest.fixture
def finely(monkeypatch):
    """Figures printed as finely as anyone could lay them off: what is left is whether the words are right."""
    monkeypatch.setattr(ruler_words, "paper_words", lambda document, mm: f"{mm:.10f} mm")
    monkeypatch.setattr(ruler, "paper_words", lambda document, mm: f"{mm:.10f} mm")
    monkeypatch.setattr(sentences, "ANGLE", ".11f")


def test_every_school_is_followed_here():
    assert set(WAYS) == set(SCHOOLS)


@pytest.mark.parametrize("school", SCHOOLS)
@settings(max_examples=12, deadline=None, suppress_health_check=list(HealthCheck))
@given(data=st.data())
def test_the_words_alone_lead_to_the_drawing(finely, school, data):
    document = data.draw(WAYS[school])
    done = construct(document, document.volumes[0].id, school)
    if not isinstance(done, Construction):
        return
    try:
        reader, _marked, off = followed(document, done)
    except TooFineError:
        return
    # Lines that cross at a grazing angle lose digits; a wrong side or a wrong point is off by millimetres.
    assert max(off.values()) < 0.02, max(off, key=off.get)
    edges = sum(len(step.edges) for step in done.steps)
    assert not edges or reader.firm, "what is drawn firmly is said"
    assert all(step.sentence and step.why for step in done.steps)


@pytest.mark.parametrize("school", BOX)
@settings(max_examples=12, deadline=None, suppress_health_check=list(HealthCheck))
@given(data=st.data())
def test_one_box_by_its_printed_figures_ends_within_a_tenth_of_a_millimetre(school, data):
    document = data.draw(WAYS[school])
    done = construct(document, "box", school)
    if (
        not isinstance(done, Construction)
        or max(np.hypot(*s.at) for step in done.steps for s in step.points) > 1200.0
    ):
        return
    _, marked, off = followed(document, done)
    # Edges to a far point at a grazing angle to each other are what rounding makes of them: such boxes are thin on paper.
    corners = np.array(list(done.ends.values()))
    thin = min(np.ptp(corners, axis=0)) < 25.0
    assert at_ends(done, marked, off) < (0.5 if thin else 0.15)


@pytest.mark.parametrize("name", ["tea-cart", "delivery-van", "perch-stool", "market-snapshot"])
def test_the_demos_boxes_are_followed_to_a_tenth_of_a_millimetre(name):
    document = demo(name)
    tried = 0
    for volume in document.volumes:
        for school in BOX:
            done = construct(document, volume.id, school)
            if isinstance(done, Construction):
                _, marked, off = followed(document, done)
                assert at_ends(done, marked, off) < 0.15, (volume.id, school)
                tried += 1
    assert tried >= 2


def test_what_the_reader_does_not_know_it_cannot_follow():
    reader = Reader(420.0, 297.0)
    with pytest.raises(LostError, match="not understood"):
        reader.follow("Go on in the same way.")
    with pytest.raises(LostError, match="before it is marked"):
        reader.follow("Mark X where A–B crosses C–D.")


def test_ways_over_a_short_ruler_are_places_too():
    document = change_document(demo("tea-cart"), "ruler", ruler=Ruler(length=200.0, kind="clear")).document
    done = construct(document, "body", "measuring")
    assert any("longer than the ruler" in step.sentence for step in done.steps)
    followed(msgspec.structs.replace(document), done)
