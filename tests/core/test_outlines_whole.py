"""Outlines of turned bodies are whole: they break where the body turns away or hides them, and nowhere else."""

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from isometron.demos.catalogue import DEMOS, demo
from isometron.document.eyes.eye_edits import turn_object
from isometron.document.fresh import new_document
from isometron.solve.drawing import solve
from isometron.solve.layers.rounds import outlines_of
from isometron.solve.marks import Role
from isometron.starters.catalogue import STARTERS, lay_starter
from isometron.view.placing import place_eye
from isometron.volumes.profile import profile_sides
from isometron.volumes.turned import PROFILES, ProfileRing, Turned

SHORT = 0.8
"""mm of paper."""


@st.composite
def profiles(draw):
    count = draw(st.integers(2, 5))
    at = [0.0, *((k + draw(st.floats(0.25, 0.75))) / count for k in range(count)), 1.0]
    wide = [round(draw(st.floats(0.12, 0.85)), 3) for _ in at]
    wide[draw(st.integers(0, len(at) - 1))] = 1.0
    kinds = st.sampled_from(["smooth", "smooth", "round", "straight"])
    return tuple(ProfileRing(at=a, wide=w, then=draw(kinds)) for a, w in zip(at, wide, strict=True))


eyes = st.builds(
    lambda height, away, turn: place_eye(height=height, away=away, turn_deg=turn, viewing_distance=400.0),
    st.floats(-900.0, 2000.0).map(lambda x: round(x, 1)), st.floats(700.0, 3000.0), st.floats(-25.0, 25.0),
)  # fmt: skip


def body(profile, **fields):
    usual = {"corner": (-100.0, -100.0, 0.0), "size": (200.0, 200.0, 330.0)}
    return Turned(id="v", name="V", profile=profile, **(usual | fields))


def caster(volume):
    """By how much (of the square of the half width) a sight line runs inside a turned body at most, told from its profile alone."""
    curve = np.concatenate([side.at(np.linspace(0.0, 1.0, 1200))[:, :2] for side in profile_sides(volume.profile)])
    size, corner = np.array(volume.size), np.array(volume.corner)
    axle = ("long", "wide", "high").index(volume.axle)
    others = [(axle + 1) % 3, (axle + 2) % 3]

    def deepest(eye, place):
        e, p = ((at - corner) / size for at in (eye, place))
        way = p - e
        if abs(way[axle]) < 1e-9:
            return -1.0
        s = (curve[:, 0] - e[axle]) / way[axle]
        across = 2.0 * (e[others] + s[:, None] * way[others]) - 1.0
        deep = curve[:, 1] ** 2 - (across**2).sum(axis=1)
        return float(np.where((s > 0.0) & (s < 1.0), deep, -1.0).max())

    return deepest, curve


@given(profiles(), eyes, st.sampled_from(["high", "high", "wide"]))
@settings(max_examples=40)
def test_what_a_body_hides_of_its_own_outline_is_what_sight_lines_say(profile, eye, axle):
    volume = body(profile, axle=axle)
    deepest, _ = caster(volume)
    drawing = solve(msgspec.structs.replace(new_document(), eye=eye, volumes=(volume,)))
    ends, owner, spun, behind = outlines_of(eye, drawing.scene.unit_rounds)
    assert (spun > 0).all() and (owner == 0).all()
    wrong, asked = [], 0
    for row in range(0, len(ends), 3):
        deep = [deepest(eye.place, place) for place in ends[row]]
        own = behind[0] == row
        told = float((behind[2][own] - behind[1][own]).sum())
        if max(deep) < 1e-5:
            asked += 1
            wrong += [(row, told, deep)] if told > 0.01 else []
        elif min(deep) > 4e-3:
            asked += 1
            wrong += [(row, told, deep)] if told < 0.99 else []
    assert len(wrong) <= 0.01 * asked, wrong[:5]


def strokes(drawing):
    """Lengths on paper of the outlines' visible stretches, each from where it begins to where it ends."""
    lines = drawing.of("rounds").lines
    seen = (lines.role == Role.OBJECT) | (lines.role == Role.CONSTRUCTION)
    points, owner = lines.points[seen], lines.owner[seen]
    if not len(points):
        return np.zeros(0)
    fresh = np.append(True, (np.abs(points[1:, :2] - points[:-1, 2:]).max(axis=1) > 1e-6) | (owner[1:] != owner[:-1]))
    return np.bincount(np.cumsum(fresh) - 1, np.hypot(*(points[:, 2:] - points[:, :2]).T))


@given(profiles(), eyes)
@settings(max_examples=60)
def test_no_outline_is_broken_into_dashes(profile, eye):
    found = strokes(solve(msgspec.structs.replace(new_document(), eye=eye, volumes=(body(profile),))))
    corners = 2 * len(profile)
    assert len(found) <= 3 * corners, "a few turning points on either side"
    assert (found < SHORT).sum() <= 4, sorted(found)[:9]


@pytest.mark.parametrize("turn", [0.0, 25.0, 160.0])
@pytest.mark.parametrize("name", [*DEMOS, *STARTERS])
def test_demos_and_starters_have_whole_outlines(name, turn):
    document = demo(name) if name in DEMOS else lay_starter(new_document(), name).document
    document = turn_object(document, turn).document if turn else document
    found = strokes(solve(document))
    rounds = sum(isinstance(v, Turned) for v in document.volumes)
    assert (found < SHORT).sum() <= 3 + rounds // 2, sorted(found)[:20]


@pytest.mark.parametrize("height", [300.0, 1500.0, 3500.0])
def test_a_bottle_has_one_outline_on_either_side(height):
    eye = place_eye(height=height, away=2500.0, turn_deg=0.0, viewing_distance=450.0)
    bottle = body(PROFILES["bottle"], size=(80.0, 80.0, 250.0), corner=(-40.0, -40.0, 0.0))
    found = strokes(solve(msgspec.structs.replace(new_document(), eye=eye, volumes=(bottle,))))
    assert 1 <= len(found) <= 6
