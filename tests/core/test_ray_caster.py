"""Hidden parts against a ray caster written from the file format alone: kept cases, and random scenes of every kind."""

from pathlib import Path

import msgspec
import numpy as np
import pytest
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st

from isometron.document.eyes.eye_edits import turn_object
from isometron.document.fresh import new_document
from isometron.document.store.files import load_document
from isometron.geometry.hiding import Curves
from isometron.geometry.intervals import united
from isometron.solve.drawing import solve
from isometron.solve.layers.rounds import outlines_of
from isometron.starters.catalogue import lay_starter
from isometron.view.placing import place_eye
from isometron.volumes.arch import Arch
from isometron.volumes.cut.profiles import CutBody, CutProfile, ProfileCorner
from isometron.volumes.marks.face_marks import ArchMark
from isometron.volumes.relations import Mirror, Repeat
from isometron.volumes.turned import ProfileRing, Turned
from tests.ray_caster import bodies_of, covers
from tests.strategies import documents, shaped

NOWHERE = (np.zeros(0, dtype=np.intp), np.zeros(0), np.zeros(0))
UNSHRUNK = [Phase.explicit, Phase.generate]
CASES = sorted((Path(__file__).parents[1] / "cases" / "hiding").glob("*.isometron"))
SIMPLE = [p for p in CASES if p.stat().st_size < 3000]


def curves_of(drawing):
    """All edges, rings, spokes and outlines of a drawing: what is hidden of them, and the places along each."""
    scene, eye, rounds = drawing.scene, drawing.document.eye, drawing.scene.unit_rounds
    found = [(scene.edge_curves, lambda k, t: _line(scene.vertices[scene.edges[k]], t), NOWHERE)]
    if len(rounds):
        ends, owner, spun, behind = outlines_of(eye, rounds)
        yes = np.ones(len(ends), dtype=bool)
        found += [
            (rounds.ring_curves, lambda k, t: rounds.ring_curves.points_at(np.array([k]), t[None])[0], NOWHERE),
            (Curves.lines(ends, owner, ~yes, spun), lambda k, t: _line(ends[k], t), behind),
            (
                Curves.lines(rounds.strokes, rounds.stroke_owner, rounds.stroke_is_mark),
                lambda k, t: _line(rounds.strokes[k], t),
                NOWHERE,
            ),
        ]
    return found


def _line(ends, t):
    return ends[0] + t[:, None] * (ends[1] - ends[0])


def disagreements(document, dice, most=40):
    """Places at which the drawing and the caster disagree: (row, point, what the drawing says)."""
    drawing = solve(document)
    scene, eye = drawing.scene, document.eye
    bodies = bodies_of(msgspec.json.decode(msgspec.json.encode(document)))
    first, wrong, asked = np.cumsum(scene.unit_counts) - scene.unit_counts, [], 0
    for curves, at, behind in curves_of(drawing):
        if len(curves.at) == 0:
            continue
        parts = united(drawing.picture.hiders.hidden(curves), behind)
        for k in dice.choice(len(curves.at), min(len(curves.at), most), replace=False):
            row = int(scene.unit_owner[curves.owner[k]])
            if document.volumes[row].put_away:
                continue
            t = dice.uniform(0.02, 0.98, 3)
            own = parts[0] == k
            cuts = np.concatenate([parts[1][own], parts[2][own]])
            t = t[(np.abs(t[:, None] - cuts).min(axis=1) > 0.02) if len(cuts) else np.ones(len(t), bool)]
            points = at(k, t)
            seen = eye.to_camera(points)[:, 2] > 50.0 if len(points) else np.zeros(0, dtype=bool)
            t, points = t[seen], points[seen]
            if len(t) == 0:
                continue
            hidden = ((t[:, None] > parts[1][own]) & (t[:, None] < parts[2][own])).any(axis=1)
            told = covers(bodies, row, int(curves.owner[k] - first[row]), eye.place, points)
            asked += int((told >= 0).sum())
            wrong += [(document.volumes[row].id, p.round(1).tolist(), bool(h)) for p, h, c in zip(points, hidden, told, strict=True) if c >= 0 and h != (c == 1)]  # fmt: skip
    return wrong, asked


@pytest.mark.parametrize("path", SIMPLE, ids=lambda p: p.stem)
def test_kept_cases_agree_with_the_caster(path):
    document = load_document(path)
    wrong, asked = disagreements(document, np.random.default_rng(7))
    assert asked > 5
    assert wrong == []


@pytest.mark.parametrize("path", [p for p in SIMPLE if "mirror" in p.stem], ids=lambda p: p.stem)
def test_mirror_images_are_mirror_images(path):
    """Every edge and ring of the drawing lies on a body of the caster's, which reflects points and nothing else."""
    document = load_document(path)
    drawing = solve(document)
    bodies = bodies_of(msgspec.json.decode(msgspec.json.encode(document)))
    for curves, at, _ in curves_of(drawing)[:2]:
        for k in range(len(curves.at)):
            points = at(k, np.linspace(0.05, 0.95, 9))
            depths = np.array([depth(points) for _, _, _, depth in bodies])
            assert np.abs(depths).min(axis=0).max() < 0.05, (path.stem, k)


def drawn_from_the_format(volume):
    """What the caster knows: no arches, and no marks, which its bodies do not have."""
    plain = not isinstance(volume, Arch)
    return plain and not any(isinstance(mark, ArchMark) for mark in volume.marks)


@pytest.mark.parametrize("name", ["low-car", "tall-van"])
def test_cut_cars_agree_with_the_caster(name):
    document = turn_object(lay_starter(new_document(), name).document, -35.0).document
    wrong, asked = disagreements(document, np.random.default_rng(3), most=14)
    assert asked > 40 and wrong == []


@settings(max_examples=15, deadline=None, derandomize=True, suppress_health_check=list(HealthCheck), phases=UNSHRUNK)
@given(st.lists(shaped(), min_size=1, max_size=4), documents(most=0), st.integers(0, 2**31), st.data())
def test_random_scenes_agree_with_the_caster(volumes, document, seed, data):
    """See-through and solid volumes of every kind, copies and mirror images."""
    # The round parts of one that stands just where another does are there once.
    known = [v for k, v in enumerate(volumes) if drawn_from_the_format(v) and v not in volumes[:k]]
    own = [
        msgspec.structs.replace(v, id=f"v{k}", marks=(), size=tuple(max(s, 80.0) for s in v.size))
        for k, v in enumerate(known)
    ]
    eye = place_eye(height=data.draw(st.floats(200, 3000)), away=6500.0, turn_deg=data.draw(st.floats(-80, 80)), viewing_distance=400.0)  # fmt: skip
    document = msgspec.structs.replace(document, volumes=tuple(own), eye=eye)
    wrong, _ = disagreements(document, np.random.default_rng(seed), most=10)
    assert wrong == []


@pytest.mark.parametrize("turn", [-30.0, 30.0])
def test_outlines_seen_square_to_the_axle_are_not_hidden_by_their_own_rounded_end(turn):
    rings = (
        ("round", 0.0, 0.8),
        ("straight", 0.05, 1.0),
        ("smooth", 0.55, 1.0),
        ("straight", 0.8, 0.36),
        ("straight", 1.0, 0.36),
    )
    bottle = Turned(
        id="v", name="Bottle", corner=(0.0, 0.0, 0.0), size=(80.0, 80.0, 80.0), yaw_deg=30.0, pitch_deg=30.0, axle="long",
        profile=tuple(ProfileRing(at=at, wide=wide, then=then) for then, at, wide in rings), mirror=Mirror(),
    )  # fmt: skip
    eye = place_eye(height=200.0, away=6500.0, turn_deg=turn, viewing_distance=400.0)
    document = msgspec.structs.replace(new_document(), eye=eye, volumes=(bottle,))
    wrong, asked = disagreements(document, np.random.default_rng(5), most=200)
    assert asked > 60 and wrong == []


def test_seams_of_a_see_through_cut_body_are_hidden_by_it_as_its_edges_are():
    """Where two rounds cross, the body's edge is many short lines."""
    side = (
        (0.6276, 0.7673, 8.0),
        (0.1667, 0.8205, 0.0),
        (0.0615, 0.2656, 0.0),
        (0.5571, 0.1801, 0.0),
        (0.835, 0.5479, 0.0),
    )
    plan = ((0.5017, 0.8371, 0.2), (0.0384, 0.5913, 0.0), (0.4441, 0.2286, 0.2), (0.939, 0.5914, 0.0))
    body = CutBody(
        id="v", name="Body", corner=(-0.33, -2075.78, 2499.0), size=(180.0, 1094.41, 575.59), yaw_deg=90.0, see_through=True,
        side=CutProfile.through(ProfileCorner(at=(x, y), round=r) for x, y, r in side),
        plan=CutProfile.through(ProfileCorner(at=(x, y), bow=b) for x, y, b in plan),
    )  # fmt: skip
    eye = place_eye(height=864.0, away=6500.0, turn_deg=-17.4, viewing_distance=400.0)
    document = msgspec.structs.replace(new_document(), eye=eye, volumes=(body,))
    assert len(solve(document).scene.unit_rounds.strokes) > 4
    wrong, asked = disagreements(document, np.random.default_rng(5), most=60)
    assert asked > 60 and wrong == []


def test_see_through_images_hide_themselves_though_they_fall_into_other_pieces():
    """The mirror image of a rounded plan is cut into other convex pieces than the plan itself."""
    rounds = zip(((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)), (100.5, 375.7, 173.8, 56.3), strict=True)
    slab = CutBody(
        id="v", name="Slab", corner=(267.0, -641.0, 342.0), size=(1063.0, 1066.0, 80.0), yaw_deg=45.0, pitch_deg=45.0,
        plan=CutProfile.through(ProfileCorner(at=at, round=radius) for at, radius in rounds), see_through=True,
        copies=(Repeat(along="long", count=2, pitch=-899.0),), mirror=Mirror(),
    )  # fmt: skip
    eye = place_eye(height=740.0, away=6500.0, turn_deg=0.0, viewing_distance=400.0)
    document = msgspec.structs.replace(new_document(), eye=eye, volumes=(slab,))
    wrong, asked = disagreements(document, np.random.default_rng(5), most=60)
    assert asked > 60 and wrong == []
