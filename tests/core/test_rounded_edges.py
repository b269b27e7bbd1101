"""Rounded edges: faces that close, what is drawn lies on the rounds, hiding against balls rolled along, and what is refused."""

import msgspec
import numpy as np
import pytest
from hypothesis import HealthCheck, Phase, assume, given, settings
from hypothesis import strategies as st

from isometron.document.fresh import new_document
from isometron.document.marks.edge_edits import change_edge, round_edges, sharpen_edge
from isometron.document.model import DocumentError
from isometron.document.store.files import decode_document, encode_document
from isometron.geometry.faces.flat import crossed
from isometron.geometry.intervals import united
from isometron.solve.drawing import solve
from isometron.solve.findings import findings
from isometron.solve.layers.rounds import outlines_of
from isometron.surfaces.export import export_bytes
from isometron.view.placing import place_eye
from isometron.volumes.box import Box
from isometron.volumes.copies import copies_of
from isometron.volumes.cut.profiles import CutBody, CutProfile, ProfileCorner
from isometron.volumes.flipping import flipped
from isometron.volumes.marks.face_marks import OpeningMark
from isometron.volumes.marks.holds import Measured
from isometron.volumes.openings.edges import outer_edges
from isometron.volumes.openings.solids import opened_rounds, opened_solids, uncut_openings, unrounded_edges
from isometron.volumes.relations import Mirror
from isometron.volumes.rounded import RoundedEdge
from isometron.volumes.sections.facts import section_facts
from tests.core.test_ray_caster import curves_of
from tests.core.test_sections import section

PAIRS = [(a, b) for a in range(6) for b in range(a + 1, 6) if a // 2 != b // 2]
SIZE = (900.0, 700.0, 500.0)


def edge(one, two, radius, grows_to=None):
    return RoundedEdge(between=(one, two), radius=radius, grows_to=grows_to)


def box(*rounded, **fields):
    return Box(id="b", name="Block", corner=(0.0, 0.0, 0.0), size=SIZE, rounded=rounded, **fields)


def wedge(*rounded):
    corners = tuple(ProfileCorner(n=k, at=(Measured(mm=x), Measured(mm=z))) for k, (x, z) in enumerate(((0, 0), (900, 0), (900, 500), (300, 500))))  # fmt: skip
    return CutBody(
        id="w", name="Wedge", corner=(0.0, 0.0, 0.0), size=SIZE, side=CutProfile(corners=corners), rounded=rounded
    )


def depth_in(volume, radius):
    """How deep places (N, 3) lie in a convex body with rounds of one radius on some edges: in all its faces, and of an edge that is
    rounded within reach of the line along which its ball runs."""
    edges = outer_edges(msgspec.structs.replace(volume, rounded=()))
    rounded = {frozenset(each.between) for each in volume.rounded}
    planes = {}
    for each in edges:
        for name, way, other in zip(each.between, each.ways, each.ways[::-1], strict=True):
            along = np.cross(each.ends[1] - each.ends[0], way)
            normal = along / np.linalg.norm(along)
            planes[name] = (normal if normal @ other < 0 else -normal, each.ends[0])

    def depth(p):
        flat = {name: (place - p) @ normal for name, (normal, place) in planes.items()}
        found = np.min(list(flat.values()), axis=0)
        for corner in _corners(edges):
            names = {
                name
                for each in edges
                if any(np.abs(end - corner).max() < 1e-6 for end in each.ends)
                for name in each.between
            }
            soft = [pair for pair in rounded if pair <= names]
            if len(soft) == 3:
                normals = np.array([planes[n][0] for n in names])
                middle = corner - np.linalg.solve(normals, np.full(3, radius))
                # The ball's middle is nearest to what lies from it along a mixture of the three normals.
                near = (np.linalg.solve(normals.T, (p - middle).T) > 0.0).all(axis=0)
                found = np.where(near, np.minimum(found, radius - np.linalg.norm(p - middle, axis=1)), found)
        for pair in rounded:
            one, two = (planes[name][0] for name in pair)
            a, b = (radius - flat[name] for name in pair)
            angle = one @ two
            # How far the place lies from the line that is ``radius`` deep in both faces.
            away = np.sqrt(np.maximum((a * a + b * b - 2 * angle * a * b) / (1 - angle * angle), 0.0))
            outside = (a - angle * b > 0.0) & (b - angle * a > 0.0)
            found = np.where(outside, np.minimum(found, radius - away), found)
        return found

    return depth


def _corners(edges):
    places = np.array([end for each in edges for end in each.ends])
    return places[np.sort(np.unique(np.round(places, 4), axis=0, return_index=True)[1])]


def unmet(volume):
    """Why openings of a volume are not cut, and edges not rounded."""
    return uncut_openings(volume) | {f"edge {k}": why for k, why in unrounded_edges(volume).items()}


chosen = st.lists(st.sampled_from(PAIRS), min_size=1, max_size=12, unique=True)


@settings(max_examples=30, deadline=None, derandomize=True, phases=[Phase.explicit, Phase.generate], suppress_health_check=list(HealthCheck))  # fmt: skip
@given(chosen, st.floats(5.0, 150.0), st.integers(0, 2**31), st.booleans())
def test_faces_close_and_what_is_drawn_lies_on_the_rounds(pairs, radius, seed, slanted):
    names = {0: "side.3", 1: "side.1", 2: "y0", 3: "y1", 4: "side.0", 5: "side.2"}
    rounded = [edge(*(names[f] if slanted else f for f in pair), radius) for pair in pairs]
    volume = wedge(*rounded) if slanted else box(*rounded)
    refused = set(unrounded_edges(volume))
    volume = msgspec.structs.replace(volume, rounded=tuple(e for k, e in enumerate(rounded) if k not in refused))
    assume(volume.rounded)
    solids, dice, depth = opened_solids(volume), np.random.default_rng(seed), depth_in(volume, radius)
    balls = opened_rounds(volume, 0).frusta.base
    for _ in range(15):
        place, way = dice.uniform((-100,) * 3, np.array(SIZE) + 100), dice.normal(size=3)
        rows, far = crossed(solids.faces, place, way)
        back, _ = crossed(solids.faces, place, -way)
        assert (len(rows) + len(back)) % 2 == 0
        order = np.argsort(far)
        facing = np.sign(solids.faces.normals[rows[order]] @ way)
        assert (facing[1:] != facing[:-1]).all()  # in, out
        met = place + far[:, None] * way
        deep = depth(met)
        # Chords; before the faces that close a corner its ball stands.
        apart = np.linalg.norm(met[:, None] - balls, axis=2).min(axis=1, initial=np.inf) > 1.001 * radius
        assert deep.min(initial=0.0) > -1e-6 and deep[apart].max(initial=0.0) < 0.006 * radius + 0.1
    eye = place_eye(
        height=dice.uniform(-900, 1500), away=2500.0, turn_deg=dice.uniform(-180, 180), viewing_distance=400.0
    )
    drawing = solve(msgspec.structs.replace(new_document(), volumes=(volume,), eye=eye))
    rounds = drawing.scene.unit_rounds
    lines, *_ = outlines_of(eye, rounds)
    t = np.linspace(0.05, 0.95, 7)
    rings = rounds.ring_curves.points_at(np.arange(len(rounds.rings)), np.tile(t, (len(rounds.rings), 1))).reshape(
        -1, 3
    )
    ends = solids.vertices[0][solids.edges]
    straight = np.concatenate([lines, ends[np.abs(ends[:, 1] - ends[:, 0]).max(axis=1) > 1e-6]])
    along = (straight[:, :1] + t[:, None] * (straight[:, 1:] - straight[:, :1])).reshape(-1, 3)
    assert np.abs(depth(np.concatenate([rings, along]))).max() < 2e-3  # mm


@settings(max_examples=25, deadline=None, derandomize=True, phases=[Phase.explicit, Phase.generate], suppress_health_check=list(HealthCheck))  # fmt: skip
@given(chosen, st.floats(20.0, 150.0), st.integers(0, 2**31))
def test_what_is_hidden_is_hidden_by_the_true_rounds(pairs, radius, seed):
    """Lines of a rounded body, and of what stands before and behind it, against sight lines marched through balls rolled along."""
    volume = box(*(edge(a, b, radius) for a, b in pairs))
    refused = set(unrounded_edges(volume))
    volume = msgspec.structs.replace(
        volume, rounded=tuple(e for k, e in enumerate(volume.rounded) if k not in refused)
    )
    dice = np.random.default_rng(seed)
    others = tuple(Box(id=f"r{k}", name="Rod", corner=(x, y, 0.0), size=(60.0, 60.0, 900.0)) for k, (x, y) in enumerate(((-300.0, 900.0), (400.0, 1000.0), (1000.0, -300.0))))  # fmt: skip
    eye = place_eye(
        height=dice.uniform(100, 1600), away=2600.0, turn_deg=dice.uniform(-180, 180), viewing_distance=400.0
    )
    drawing = solve(msgspec.structs.replace(new_document(), volumes=(volume, *others), eye=eye))
    depths = [depth_in(volume, radius), *(_block(other) for other in others)]
    wrong, asked = [], 0
    for curves, at, behind in curves_of(drawing):
        parts = united(drawing.picture.hiders.hidden(curves), behind)
        for k in range(len(curves.at)):
            t = dice.uniform(0.03, 0.97, 2)
            own = parts[0] == k
            cuts = np.concatenate([parts[1][own], parts[2][own]])
            t = t[(np.abs(t[:, None] - cuts).min(axis=1) > 0.02) if len(cuts) else np.ones(len(t), bool)]
            if not len(t):
                continue
            points = at(k, t)
            hidden = ((t[:, None] > parts[1][own]) & (t[:, None] < parts[2][own])).any(axis=1)
            steps = np.linspace(0.2, 0.9995, 1500)
            places = (eye.place + steps[:, None, None] * (points - eye.place)).reshape(-1, 3)
            deepest = np.max([depth(places) for depth in depths], axis=0).reshape(len(steps), -1).max(axis=0)
            sure = np.abs(deepest) > 2.5
            asked += int(sure.sum())
            wrong += [(curves.owner[k], p.round(1).tolist(), bool(h)) for p, h, d, s in zip(points, hidden, deepest, sure, strict=True) if s and h != (d > 0)]  # fmt: skip
    assert wrong == [] and asked > 5


def _block(volume):
    low = np.array(volume.corner)
    return lambda p: np.minimum(p - low, low + volume.size - p).min(axis=1)


def test_a_radius_grows_evenly_along_its_edge():
    volume = box(edge(2, 5, 30.0, 180.0))
    solids = opened_solids(volume)
    ends = solids.vertices[0][solids.edges][solids.soft]
    assert sorted(ends[:, :, 1].max(axis=1).round(6).tolist()) == [0.0, 180.0]  # the lines at which the round begins
    top = ends[np.abs(ends[:, 0, 2] - 500.0) < 1e-6][0]
    assert sorted(map(tuple, top.round(6).tolist())) == [(0.0, 30.0, 500.0), (900.0, 180.0, 500.0)]
    drawing = solve(msgspec.structs.replace(new_document(), volumes=(volume,)))
    rings = drawing.scene.rounds.rings
    assert sorted(np.linalg.norm(rings[:, 3:6], axis=1).round(6).tolist()) == [30.0, 180.0]
    for height, turn in ((2500.0, -60.0), (900.0, 120.0), (2500.0, 20.0)):
        eye = place_eye(height=height, away=2500.0, turn_deg=turn, viewing_distance=400.0)
        for line in outlines_of(
            eye, solve(msgspec.structs.replace(new_document(), volumes=(volume,), eye=eye)).scene.rounds
        )[0]:
            for place in line:
                radius = 30.0 + 150.0 * place[0] / 900.0
                assert np.hypot(place[1] - radius, place[2] - 500.0 + radius) == pytest.approx(radius, abs=1e-3)


@pytest.mark.parametrize(("edges", "words"), [
    ([edge(0, 2, 30.0), edge(2, 5, 60.0)], "same radius there; here they are 30 and 60 mm"),
    ([edge(0, 2, 30.0), edge(2, 5, 30.0, 60.0)], "grows"),
    ([edge(0, 2, 800.0)], "no room"),
    ([edge(0, 2, 360.0), edge(0, 3, 360.0)], "no room"),
    ([edge(0, 1, 10.0)], "do not meet"),
    ([edge(0, "side.9", 10.0)], "not there"),
    ([edge(0, 2, 0.0)], "needs a radius"),
])  # fmt: skip
def test_what_cannot_be_rounded_is_refused_with_words_and_kept(edges, words):
    document = msgspec.structs.replace(new_document(), volumes=(box(),))
    with pytest.raises(DocumentError, match=words):
        round_edges(document, "b", edges)
    kept = msgspec.structs.replace(document, volumes=(box(*edges),))
    assert words in " ".join(finding.message for finding in findings(kept, solve(kept).picture))
    assert decode_document(encode_document(kept)) == kept


def test_inner_edges_and_edges_that_lean_differently():
    step = tuple(ProfileCorner(n=k, at=(Measured(mm=x), Measured(mm=z))) for k, (x, z) in enumerate(((0, 0), (900, 0), (900, 250), (400, 250), (400, 500), (0, 500))))  # fmt: skip
    body = CutBody(id="w", name="Step", corner=(0.0, 0.0, 0.0), size=SIZE, side=CutProfile(corners=step))
    names = {frozenset(each.between) for each in outer_edges(body)}
    assert frozenset(("side.2", "side.3")) not in names and frozenset(("side.3", "side.4")) in names
    document = msgspec.structs.replace(new_document(), volumes=(body,))
    with pytest.raises(DocumentError, match="inner"):
        round_edges(document, "w", [edge("side.2", "side.3", 20.0)])
    assert (
        unmet(
            round_edges(document, "w", [edge("side.3", "side.4", 20.0), edge("side.3", "y0", 20.0)]).document.volumes[
                0
            ]
        )
        == {}
    )
    document = msgspec.structs.replace(new_document(), volumes=(wedge(),))
    with pytest.raises(DocumentError, match="third edge"):
        round_edges(document, "w", [edge("side.2", "side.3", 20.0), edge("side.2", "y0", 20.0)])
    whole = round_edges(
        document, "w", [edge("side.2", "side.3", 20.0), edge("side.2", "y0", 20.0), edge("side.3", "y0", 20.0)]
    )
    assert unmet(whole.document.volumes[0]) == {}


def test_rounded_edges_are_changed_made_sharp_flipped_mirrored_hollowed_and_cut_open():
    document = msgspec.structs.replace(new_document(), volumes=(box(edge(2, 5, 30.0, 90.0), wall=20.0),))
    document = change_edge(document, "b", 0, 40.0, 90.0).document
    assert document.volumes[0].rounded == (edge(2, 5, 40.0, 90.0),)
    assert change_edge(document, "b", 0, 40.0, 40.0).document.volumes[0].rounded == (edge(2, 5, 40.0),)
    assert sharpen_edge(document, "b", 0).document.volumes[0].rounded == ()
    assert flipped(document.volumes[0], 0).rounded == (edge(2, 5, 90.0, 40.0),)
    assert flipped(document.volumes[0], 1).rounded == (edge(3, 5, 40.0, 90.0),)
    image = copies_of(msgspec.structs.replace(document.volumes[0], mirror=Mirror(across="long")), dict)[1]
    assert unmet(image) == {} and image.rounded[0].radius == 90.0
    opened = msgspec.structs.replace(document.volumes[0], marks=(OpeningMark(face=2, wide=400.0, high=200.0),))
    assert unmet(opened) == {}
    beside = msgspec.structs.replace(opened, marks=(OpeningMark(face=2, wide=400.0, high=480.0),))
    assert unmet(beside) == {}  # it reaches into the round
    assert b'"version":4' in encode_document(document).replace(b" ", b"")


def test_no_other_edge_is_made_sharp_by_the_way():
    document = msgspec.structs.replace(new_document(), volumes=(box(edge(0, 2, 40.0), edge(2, 5, 40.0)),))
    with pytest.raises(DocumentError, match="same radius there"):
        change_edge(document, "b", 0, 60.0, None)
    both = round_edges(document, "b", [edge(0, 2, 60.0), edge(2, 5, 60.0)]).document
    assert unmet(both.volumes[0]) == {} and [e.radius for e in both.volumes[0].rounded] == [60.0, 60.0]
    # One that could not be rounded before is no hindrance.
    worse = msgspec.structs.replace(document, volumes=(box(edge(0, 2, 40.0), edge(2, 5, 90.0)),))
    assert change_edge(worse, "b", 0, 30.0, None).document.volumes[0].rounded[0].radius == 30.0


def test_sections_follow_the_rounds():
    outlined, cutting = section([box(*(edge(a, b, 100.0) for a, b in PAIRS))], (450.0, 350.0, 250.0), (1.0, 0.0, 0.0))
    facts = section_facts(outlined, cutting)
    assert facts.area == pytest.approx(700.0 * 500.0 - (4 - np.pi) * 100.0**2, rel=1e-3)
    assert facts.length == pytest.approx(2 * (500.0 + 300.0) + 2 * np.pi * 100.0, rel=1e-3)


@pytest.mark.parametrize("suffix", [".svg", ".pdf", ".png", ".json"])
def test_every_export_carries_rounded_edges(suffix, tmp_path):
    plain, rounded = (
        export_bytes(solve(msgspec.structs.replace(new_document(), volumes=(volume,))), tmp_path / f"a{suffix}")
        for volume in (box(), box(*(edge(a, b, 60.0) for a, b in PAIRS)))
    )
    assert len(rounded) > len(plain)
