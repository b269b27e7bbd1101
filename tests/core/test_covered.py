"""The comparison of ink itself: blind to how strokes are parted, and to nothing else."""

import json

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.covered import chords_of, uncovered
from tests.kept_drawings import DOCUMENTS, changes, drawn

NONE = np.zeros((0, 6)), np.zeros((0, 9)), np.zeros((0, 10))
PLACES = st.floats(-300.0, 300.0)
CUTS = st.lists(st.floats(0.01, 0.99), max_size=5)


def left(one, other):
    return [
        stretch
        for pair in ((one, other), (other, one))
        for stretch in uncovered(*(chords_of(*each) for each in pair))
    ]


def cut_line(row, cuts, turned):
    ends = np.array([0.0, *sorted(cuts), 1.0])[:, None]
    places = row[:2] + ends * (row[2:4] - row[:2])
    pieces = np.hstack([places[:-1], places[1:], np.tile(row[4:], (len(places) - 1, 1))])
    return pieces[:, [2, 3, 0, 1, 4, 5]] if turned else pieces


def cut_arc(row, cuts):
    ends = row[5] + np.array([0.0, *sorted(cuts), 1.0]) * (row[6] - row[5])
    pieces = np.tile(row, (len(ends) - 1, 1))
    pieces[:, 5], pieces[:, 6] = ends[:-1], ends[1:]
    return pieces


def cut_curve(row, at):
    """A cubic parted in two by de Casteljau's rule."""
    p = row[:8].reshape(4, 2)
    a, b, c = p[:-1] + at * (p[1:] - p[:-1])
    d, e = a + at * (b - a), b + at * (c - b)
    m = d + at * (e - d)
    return np.array([[*p[0], *a, *d, *m, *row[8:]], [*m, *e, *c, *p[3], *row[8:]]])


@given(st.tuples(PLACES, PLACES, PLACES, PLACES), CUTS, st.booleans())
def test_a_line_may_be_parted_and_run_either_way(ends, cuts, turned):
    row = np.array([*ends, 7.0, 2.0])
    assert left((row[None], *NONE[1:]), (cut_line(row, cuts, turned), *NONE[1:])) == []


@given(PLACES, PLACES, st.floats(0.5, 200.0), st.floats(0.5, 200.0), st.floats(-3.0, 3.0), st.floats(0.1, 6.2), CUTS)
def test_an_arc_may_be_parted(u, v, a, b, angle, sweep, cuts):
    row = np.array([u, v, a, b, angle, 0.3, 0.3 + sweep, 7.0, 2.0])
    one, other = (NONE[0], row[None], NONE[2]), (NONE[0], cut_arc(row, cuts), NONE[2])
    assert left(one, other) == []


@given(st.lists(PLACES, min_size=8, max_size=8), st.floats(0.05, 0.95))
def test_a_cubic_may_be_parted_and_a_straight_one_be_a_line(numbers, at):
    row = np.array([*numbers, 7.0, 2.0])
    assert left((*NONE[:2], row[None]), (*NONE[:2], cut_curve(row, at))) == []
    ends = np.array(numbers[:4]).reshape(2, 2)
    flat = np.concatenate([ends[0] + t * (ends[1] - ends[0]) for t in (0.0, 1 / 3, 2 / 3, 1.0)])
    line = np.array([[*ends.ravel(), 7.0, 2.0]])
    assert left((line, *NONE[1:]), (*NONE[:2], np.array([[*flat, 7.0, 2.0]]))) == []


@pytest.mark.parametrize("what", ["moved", "short", "cut open", "role", "owner"])
def test_what_is_not_the_same_ink_is_told_with_its_length_and_place(what):
    line = np.array([[0.0, 0.0, 100.0, 0.0, 7.0, 2.0]])
    other = line.copy()
    if what == "moved":
        other[:, [1, 3]] += 0.002
    elif what == "short":
        other[:, 2] -= 0.01
    elif what == "cut open":
        other = np.array([[0.0, 0.0, 40.0, 0.0, 7.0, 2.0], [40.02, 0.0, 100.0, 0.0, 7.0, 2.0]])
    else:
        other[:, 4 + (what == "owner")] += 1.0
    found = left((line, *NONE[1:]), (other, *NONE[1:]))
    assert found, what
    if what == "cut open":
        (gap,) = found
        assert gap.at == pytest.approx((40.01, 0.0)) and gap.length == pytest.approx(0.02, abs=0.003)
    if what == "short":
        assert found[0].at == pytest.approx((99.995, 0.0), abs=0.01) and sum(g.length for g in found) < 0.02


def test_labels_and_fills_of_a_drawing_are_compared_too():
    was = drawn(DOCUMENTS["demo tea-cart"]())
    square = [[0.0, 0.0], [10.0, 0.0], [10.0, 10.0], [0.0, 10.0]]
    halves = [
        [[0.0, 0.0], [5.0, 0.0], [5.0, 10.0], [0.0, 10.0]],
        [[5.0, 0.0], [10.0, 0.0], [10.0, 10.0], [5.0, 10.0]],
    ]
    whole = was | {"fills": json.dumps([[9, 0, 0.3, [square]]])}
    assert list(changes(was | {"fills": json.dumps([[9, 0, 0.3, [half]] for half in halves])}, whole)) == []
    assert list(changes(was | {"fills": json.dumps([[9, 0, 0.3, [halves[0]]]])}, whole))
    assert list(changes(was | {"fills": json.dumps([[9, 0, 0.4, [square]]])}, whole))
    labels = json.loads(was["labels"])
    labels[0][1] += 0.01
    assert len(list(changes(was | {"labels": json.dumps(labels)}, was))) == 2
    assert len(list(changes(was | {"labels": json.dumps(labels[1:])}, was))) == 1
