"""Openings: the cases computed apart, the ray caster, faces that close, and what is refused in words."""

from collections import Counter
from math import pi
from pathlib import Path

import msgspec
import numpy as np
import pytest
from hypothesis import HealthCheck, Phase, assume, given, settings
from hypothesis import strategies as st

from isometron.document.edits import resize_volume
from isometron.document.fresh import new_document
from isometron.document.marks.opening_edits import cut_opening, make_hollow
from isometron.document.model import DocumentError
from isometron.document.store.files import decode_document, encode_document
from isometron.geometry.faces.corners import Corner, OutlineError, outline_through
from isometron.geometry.faces.flat import crossed
from isometron.geometry.faces.insets import inset, with_arcs
from isometron.geometry.hiding import Curves
from isometron.geometry.outlines import flattened
from isometron.solve.drawing import solve
from isometron.solve.findings import findings
from isometron.surfaces.export import export_bytes
from isometron.view.placing import place_eye
from isometron.volumes.arch import Arch
from isometron.volumes.box import Box
from isometron.volumes.building import build_scene
from isometron.volumes.cut.profiles import CutBody, CutProfile, ProfileCorner
from isometron.volumes.framed import Framed, Rail, framed_boxes, framed_union
from isometron.volumes.kinds import own_faces
from isometron.volumes.marks.face_marks import DivideMark, OpeningMark, RingMark
from isometron.volumes.marks.holds import Measured
from isometron.volumes.openings.filled import opened_pieces
from isometron.volumes.openings.solids import opened_solids, uncut_openings
from isometron.volumes.shells.shells import shell_of
from tests.core.test_ray_caster import disagreements
from tests.core.test_reference_cases import cases

FOOT = Measured(mm=0.0, to="edge")


def box(*marks, size=(3000.0, 300.0, 2400.0), **fields):
    return Box(id="b", name="Wall", corner=(0.0, 0.0, 0.0), size=size, marks=marks, **fields)


def seen(parts, row):
    """The visible stretches of a curve."""
    found, at = [], 0.0
    for low, high in sorted((low, high) for k, low, high in zip(*parts, strict=True) if k == row):
        if low > at:
            found.append([at, low])
        at = max(at, high)
    return [*found, [at, 1.0]] if at < 1.0 else found


def wall_of(given):
    wall, kind = given["wall"], given["opening"]
    if kind["kind"] == "round":
        (x, z), wide = kind["centre"], 2 * kind["radius"]
        form, high = "ring", wide
    else:
        wide, x, z = kind["a1"] - kind["a0"], (kind["a0"] + kind["a1"]) / 2, kind["c0"]
        form = "half-round" if kind["kind"] == "arched" else "rectangle"
        high = kind["c1"] - z if form == "rectangle" else kind["spring"] + wide / 2 - z
        z += high / 2 if form == "rectangle" else 0.0
    mark = OpeningMark(face=2, form=form, at=(Measured(mm=x), Measured(mm=z)), wide=wide, high=high)
    return Box(id="w", name="Wall", corner=tuple(wall["corner"]), size=tuple(wall["size"]), yaw_deg=wall["yaw_deg"], marks=(mark,))  # fmt: skip


@pytest.mark.parametrize("case", cases("opening"))
def test_what_is_seen_of_an_opening_and_through_it(case):
    given = case["given"]
    eye = place_eye(height=1500.0, away=5000.0, turn_deg=0.0, viewing_distance=450.0)
    eye = msgspec.structs.replace(eye, position=tuple(given["eye"]))
    document = msgspec.structs.replace(new_document(), volumes=(wall_of(given),), eye=eye)
    document = msgspec.structs.replace(decode_document(encode_document(document)), eye=eye)
    drawing = solve(document)
    hiders, scene = drawing.picture.hiders, drawing.scene
    rod = hiders.hidden(Curves.lines(np.array([given["rod"]], dtype=float), np.zeros(1, dtype=np.intp)))
    assert np.allclose(seen(rod, 0), case["expect"]["rod"], atol=1e-7)
    lines = hiders.hidden(scene.edge_curves)
    rings = hiders.hidden(scene.unit_rounds.ring_curves)
    ends = scene.vertices[scene.edges]
    round_ = scene.unit_rounds.ring_curves
    for edge in case["expect"]["edges"]:
        want, start = edge["visible"], np.array(edge["from"])
        if "to" not in edge or "middle" in edge:
            row, found = _ring(round_, rings, edge, start)
        else:
            way = np.array([start, edge["to"]])
            gaps = np.minimum(np.abs(ends - way).max(axis=(1, 2)), np.abs(ends[:, ::-1] - way).max(axis=(1, 2)))
            row = int(np.argmin(gaps))
            assert gaps[row] < 1e-5, edge["edge"]
            found = seen(lines, row)
            if np.abs(ends[row] - way).max() > 1e-5:
                found = [[1.0 - high, 1.0 - low] for low, high in reversed(found)]
        assert len(found) == len(want) and np.allclose(found, want, atol=1e-7), edge["edge"]


def _ring(curves, hidden, edge, start):
    """Parts of an arc that begins at ``start``, of the half or the two halves that are drawn."""
    whole = "circle" in edge["edge"]
    found = []
    for row in range(len(curves.at)):
        sample = curves.points_at(np.array([row]), np.linspace(0.0, 1.0, 3)[None])[0]
        middle = np.array(edge["middle"]) if not whole else None
        if whole:
            centre = curves.at[row, :3]
            if abs(np.linalg.norm(start - centre) - np.linalg.norm(curves.at[row, 3:6])) > 1e-4:
                continue
            if min(np.abs(sample[0] - start).max(), np.abs(sample[2] - start).max()) > 1e-4:
                continue
            if np.abs(sample[0] - sample[2]).max() < 1e-4:  # drawn as one
                first = curves.points_at(np.array([row]), np.array([[0.25]]))[0][0]
                parts = seen(hidden, row)
                return row, parts if first[2] > centre[2] else [
                    [1.0 - high, 1.0 - low] for low, high in reversed(parts)
                ]
            up = sample[1][2] > centre[2]
            parts = seen(hidden, row)
            found += [(part, up, np.abs(sample[0] - start).max() < 1e-4) for part in parts]
            continue
        if np.abs(sample[1] - middle).max() > 1e-4:
            continue
        parts = seen(hidden, row)
        if np.abs(sample[0] - start).max() > 1e-4:
            parts = [[1.0 - high, 1.0 - low] for low, high in reversed(parts)]
        return row, parts
    turned = []
    for (low, high), up, forth in found:
        low, high = (low, high) if forth else (1.0 - high, 1.0 - low)
        # The lower half is gone backwards: from its +a end it comes last.
        turned.append([low / 2, high / 2] if up else [1.0 - high / 2, 1.0 - low / 2])
    turned.sort()
    joined = []
    for part in turned:
        if joined and part[0] - joined[-1][1] < 1e-6:
            joined[-1][1] = part[1]
        else:
            joined.append(part)
    return 0, joined


held = st.floats(0.15, 0.85).map(lambda x: round(x, 3))
openings = st.builds(
    OpeningMark, face=st.integers(0, 5), at=st.tuples(held, held), wide=st.floats(20.0, 500.0), high=st.floats(20.0, 500.0),
    form=st.sampled_from(["rectangle", "ring", "half-round"]), goes=st.sampled_from(["pocket", "wall", "through"]),
    depth=st.floats(5.0, 120.0), mirrored=st.booleans(),
).map(lambda m: msgspec.structs.replace(m, high=m.wide if m.form == "ring" else max(m.high, m.wide / 2)))  # fmt: skip


def cut(volume, marks):
    """The volume with those of the openings that can be cut, one after the other."""
    for mark in marks:
        more = msgspec.structs.replace(volume, marks=(*volume.marks, mark))
        volume = volume if uncut_openings(more) else more
    return volume


@settings(max_examples=25, deadline=None, derandomize=True, suppress_health_check=list(HealthCheck))
@given(st.lists(openings, min_size=1, max_size=5), st.sampled_from([0.0, 60.0]), st.integers(0, 2**31), st.data())
def test_random_openings_agree_with_the_caster(marks, wall, seed, data):
    volume = cut(box(size=(1200.0, 700.0, 900.0), wall=wall, yaw_deg=25.0), marks)
    assume(volume.marks or wall)
    rods = tuple(
        Box(id=f"r{k}", name="Rod", corner=(x, 1300.0, 0.0), size=(60.0, 60.0, 900.0)) for k, x in enumerate((-400.0, 100.0, 600.0))
    )  # fmt: skip
    eye = place_eye(height=data.draw(st.floats(100, 2500)), away=2600.0, turn_deg=data.draw(st.floats(-80, 80)), viewing_distance=400.0)  # fmt: skip
    document = msgspec.structs.replace(new_document(), volumes=(volume, *rods), eye=eye)
    wrong, asked = disagreements(document, np.random.default_rng(seed), most=25)
    assert wrong == [] and asked


def framed(*marks, inset=0.0, top=50.0, legs=(90.0, 70.0), **fields):
    rails = (Rail(at=0.8, high=120.0, thick=40.0), Rail(at=0.25, high=60.0, thick=70.0))
    return Framed(id="t", name="Table", corner=(0.0, 0.0, 0.0), size=(1200.0, 700.0, 900.0), leg=legs, inset=inset, top=top,
                  rails=rails, marks=marks, **fields)  # fmt: skip


def framed_with(data):
    """A frame with those of some openings in its faces that can be cut."""
    volume = framed(
        inset=data.draw(st.sampled_from([0.0, 30.0])), top=data.draw(st.sampled_from([0.0, 50.0])), yaw_deg=25.0
    )
    faces = sorted(own_faces(volume))
    some = data.draw(st.lists(st.tuples(st.sampled_from(faces), openings), min_size=1, max_size=5))
    fields = {"wide": 30.0, "high": 40.0}
    return cut(volume, [
        msgspec.structs.replace(mark, face=face, **({} if face.startswith("slab") else fields | {"high": 30.0} if mark.form == "ring" else fields))
        for face, mark in some
    ])  # fmt: skip


@settings(max_examples=12, deadline=None, derandomize=True, phases=[Phase.explicit, Phase.generate], suppress_health_check=list(HealthCheck))  # fmt: skip
@given(st.data(), st.integers(0, 2**31))
def test_random_openings_in_frames_agree_with_the_caster(data, seed):
    volume = framed_with(data)
    assume(volume.marks)
    rod = Box(id="r", name="Rod", corner=(300.0, 1000.0, 0.0), size=(60.0, 60.0, 900.0))
    eye = place_eye(height=data.draw(st.floats(100, 2500)), away=2600.0, turn_deg=data.draw(st.floats(-80, 80)), viewing_distance=400.0)  # fmt: skip
    document = msgspec.structs.replace(new_document(), volumes=(volume, rod), eye=eye)
    wrong, asked = disagreements(document, np.random.default_rng(seed), most=25)
    assert wrong == [] and asked


@given(st.data())
@settings(max_examples=30, deadline=None, derandomize=True)
def test_the_surface_of_a_frame_is_that_of_its_boxes(data):
    """Its faces have the area that no other box covers, meet each other side by side, and every edge is a side of two."""
    size = st.floats(20.0, 150.0).map(round)
    inset, top = data.draw(st.sampled_from([0.0, 17.0])), data.draw(st.sampled_from([0.0, 50.0]))
    volume = framed(inset=inset, top=top, legs=(data.draw(size), data.draw(size)))
    boxes, faces = framed_boxes(volume), framed_union(volume).faces
    flat = faces.sides
    areas = np.add.reduceat((flat[:, 0] * flat[:, 3] - flat[:, 1] * flat[:, 2]) / 2.0, faces.first[:-1])
    assert (areas * faces.normals.sum(axis=1) > 0.0).all(), "each goes round as seen from outside"
    fine = [np.linspace(-1.0, s + 1.0, 2 * int(s + 2) // 4 + 2) for s in (1200, 700, 900)]
    dice = np.random.default_rng(3)
    for axis, ticks in enumerate(fine):
        a, b = (k for k in range(3) if k != axis)
        places = dice.uniform((0.0, 0.0), (volume.size[a], volume.size[b]), (300, 2))
        line = np.zeros((len(places), 3))
        line[:, [a, b]] = places
        for place in line:
            inside = [
                (low[axis], high[axis])
                for low, high in boxes
                if low[a] < place[a] < high[a] and low[b] < place[b] < high[b]
            ]
            place[axis] = ticks[0]
            met = sorted(crossed(faces, place, np.eye(3)[axis])[1])
            merged = []
            for low, high in sorted(inside):
                if merged and low <= merged[-1] + 1e-6:
                    merged[-1] = max(merged[-1], high)
                else:
                    merged += [low, high]
            assert np.allclose(met, np.array(merged) - ticks[0])
    ends = np.round(faces.hulls.reshape(-1, 3, 3)[:, :2], 6)
    ways = Counter((tuple(one), tuple(two)) for one, two in ends.tolist())
    assert all(ways[two, one] == count for (one, two), count in ways.items())


@settings(max_examples=60, deadline=None, derandomize=True)
@given(st.lists(openings, min_size=1, max_size=6), st.sampled_from([0.0, 60.0]), st.integers(0, 2**31))
def test_faces_close_and_what_is_drawn_lies_on_them(marks, wall, seed):
    """Any straight line goes in as often as it comes out; every edge and arc lies on the rim of a face."""
    volume = cut(box(size=(1200.0, 700.0, 900.0), wall=wall), marks)
    solids = opened_solids(volume)
    dice = np.random.default_rng(seed)
    for _ in range(12):
        place, way = dice.uniform((-200, -200, -200), (1400, 900, 1100)), dice.normal(size=3)
        rows, far = crossed(solids.faces, place, way)
        rows_back, _ = crossed(solids.faces, place, -way)
        assert (len(rows) + len(rows_back)) % 2 == 0
        if any(mark.form != "rectangle" for mark in volume.marks):
            continue  # the walls of a round lie behind it by a little
        order = np.argsort(far)
        facing = np.sign(solids.faces.normals[rows[order]] @ way)
        assert (facing[1:] != facing[:-1]).all()  # in, out, in, out
    rims = solids.faces.chorded(96).hulls.reshape(-1, 3, 3)[:, :2]
    ends = solids.vertices[0][solids.edges]
    for edge in ends[np.abs(ends[:, 1] - ends[:, 0]).max(axis=1) > 1e-6]:
        middle = edge.mean(axis=0)
        along = rims[:, 1] - rims[:, 0]
        part = np.clip(((middle - rims[:, 0]) * along).sum(1) / np.maximum((along**2).sum(1), 1e-12), 0, 1)
        assert (
            np.sqrt(((rims[:, 0] + part[:, None] * along - middle) ** 2).sum(1)).min() < 0.3
        )  # facets of hollow rounds stand behind them


def test_a_door_takes_its_foot_away_and_neighbours_share_nothing():
    door = OpeningMark(face=2, at=(0.5, FOOT), wide=900.0, high=2000.0)
    solids = opened_solids(box(door))
    ends = solids.vertices[0][solids.edges]
    long = np.abs(ends[:, 1] - ends[:, 0]).max(axis=1)
    foot = ends[(ends[:, :, 2] == 0.0).all(axis=1) & (ends[:, :, 1] == 0.0).all(axis=1) & (long > 1.0)]
    assert np.allclose(sorted(np.sort(foot[:, :, 0], axis=1).tolist()), [[0.0, 1050.0], [1950.0, 3000.0]])
    # Two openings that touch become one: nothing is left between them.
    side = msgspec.structs.replace(door, at=(Measured(mm=1950.0 + 300.0), FOOT), wide=600.0)
    both = box(door, side)
    assert uncut_openings(both) == {}
    ends = opened_solids(both).vertices[0][opened_solids(both).edges]
    between = np.abs(ends[:, :, 0] - 1950.0).max(axis=1) < 1e-6
    assert not (between & (np.abs(ends[:, 1] - ends[:, 0]).max(axis=1) > 1.0)).any()


def test_openings_are_kept_by_what_holds_them_when_the_wall_grows():
    near = OpeningMark(face=2, at=(Measured(mm=200.0, to="edge"), 0.5), wide=500.0, high=600.0)
    far = msgspec.structs.replace(near, at=(Measured(from_="end", mm=200.0, to="edge"), 0.5))
    document = msgspec.structs.replace(new_document(), volumes=(box(near, far),))
    grown = resize_volume(document, "b", 0, 4000.0).document.volumes[0]
    ends = opened_solids(grown).vertices[0][opened_solids(grown).edges]
    sides = {round(x) for edge in ends for x in edge[:, 0]}
    assert {200, 700, 3300, 3800} <= sides


@pytest.mark.parametrize(
    ("mark", "wall", "words"),
    [
        (OpeningMark(face=2, at=(0.02, 0.5), wide=500.0, high=500.0), 0.0, "beyond its face"),
        (OpeningMark(face=2, wide=500.0, high=500.0, goes="pocket", depth=400.0), 0.0, "let it go through"),
        (OpeningMark(face=2, wide=500.0, high=500.0, goes="pocket", depth=60.0), 50.0, "only 50 mm there"),
        (OpeningMark(face=2, wide=3000.0, high=2400.0), 0.0, "Nothing of the body is left"),
        (OpeningMark(face=2, wide=500.0, high=500.0, goes="pocket"), 0.0, "needs a depth"),
        (OpeningMark(face=2, form="inset", inset=1300.0), 0.0, "no room"),
    ],
)
def test_what_cannot_be_cut_is_refused_with_words_and_kept(mark, wall, words):
    document = msgspec.structs.replace(new_document(), volumes=(box(wall=wall),))
    ruled = msgspec.structs.replace(document, volumes=(box(DivideMark(face=0, up=(0.5,)), wall=wall),))
    for each in (document, ruled):
        with pytest.raises(DocumentError, match=words):
            cut_opening(each, "b", mark)
    told = findings(kept := msgspec.structs.replace(document, volumes=(box(mark, wall=wall),)), solve(kept).picture)
    assert any(words in finding.message for finding in told)
    assert decode_document(encode_document(kept)).volumes[0].marks == (mark,)
    with pytest.raises(DocumentError, match="room"):
        make_hollow(document, "b", 150.0)


def test_openings_that_cross_share_a_plane_or_end_flush_are_cut_as_they_lie():
    """What is left is what the sizes say: openings are asked nothing but to take something."""
    through = OpeningMark(face=0, wide=100.0, high=300.0, goes="through")
    across = OpeningMark(face=2, wide=300.0, high=500.0)
    beside = msgspec.structs.replace(
        across, at=(0.5, Measured(mm=1650.0)), high=400.0
    )  # its foot lies on the other's head
    notch = OpeningMark(face=2, at=(Measured(mm=0.0, to="edge"), 0.5), wide=250.0, high=500.0)
    for marks, left in (
        (
            (through, across),
            3000.0 * 300.0 * 2400.0 - 3000.0 * 100.0 * 300.0 - 300.0 * 300.0 * 500.0 + 300.0 * 100.0 * 300.0,
        ),
        ((across, beside), 3000.0 * 300.0 * 2400.0 - 300.0 * 300.0 * 900.0),
        ((notch,), 3000.0 * 300.0 * 2400.0 - 250.0 * 300.0 * 500.0),
    ):
        volume = box(*marks)
        assert uncut_openings(volume) == {}
        shell = shell_of(volume).shell
        assert shell.volume == pytest.approx(left, rel=1e-9)
        ends = (solids := opened_solids(volume)).vertices[0][solids.edges]
        assert len(ends) == len(shell.curve_kind) and not solids.soft.any()


def test_leaning_faces_arches_and_cut_bodies_have_openings_too():
    lean = CutProfile.through(ProfileCorner(at=at) for at in ((0.0, 0.0), (1.0, 0.0), (0.8, 1.0), (0.2, 1.0)))
    body = CutBody(id="b", name="Cabin", corner=(0.0, 0.0, 0.0), size=(2000.0, 1500.0, 800.0), side=lean, wall=40.0)
    screen = OpeningMark(face="side.4", form="inset", inset=70.0, round=50.0)
    window = OpeningMark(face="y0", at=(0.5, 0.5), wide=600.0, high=400.0, mirrored=True)
    assert uncut_openings(msgspec.structs.replace(body, marks=(screen, window))) == {}
    solids = opened_solids(msgspec.structs.replace(body, marks=(screen, window)))
    ends = solids.vertices[0][solids.edges]
    level = np.abs(ends[:, 0, 2] - 200.0).max(axis=1) if ends.ndim == 4 else np.abs(ends[:, :, 2] - 200.0).max(axis=1)
    assert {0.0, 40.0, 1460.0, 1500.0} <= {round(float(y), 6) for edge in ends[level < 1e-6] for y in edge[:, 1]}
    arch = Arch(id="a", name="Arch", corner=(0.0, 0.0, 0.0), size=(2000.0, 400.0, 1800.0), pier=500.0, crown=500.0)
    high = OpeningMark(
        face="y0", at=(0.5, Measured(from_="end", mm=100.0, to="edge")), wide=300.0, form="ring", high=300.0
    )
    assert uncut_openings(msgspec.structs.replace(arch, marks=(high,))) == {}
    low = msgspec.structs.replace(high, at=(0.5, 0.3))
    assert "beyond its face" in uncut_openings(msgspec.structs.replace(arch, marks=(low,)))[0]


@settings(max_examples=60, deadline=None, derandomize=True)
@given(st.floats(1.0, 120.0), st.floats(0.0, 80.0), st.floats(-0.5, 0.5).map(lambda x: round(x, 2)))
def test_outlines_inwards_keep_their_distance(by, radius, bow):
    corners = [
        Corner(0.0, 0.0),
        Corner(900.0, 0.0, round=radius),
        Corner(820.0, 600.0),
        Corner(120.0, 600.0, bow=bow),
    ]
    outer = outline_through(corners)
    try:
        inner = inset(outer, by)
    except OutlineError:
        assume(False)
    points, rim = flattened(inner, 60), flattened(outer, 400)
    way = np.roll(rim, -1, axis=0) - rim
    for place in points[::3]:
        part = np.clip(((place - rim) * way).sum(1) / (way**2).sum(1), 0, 1)
        gap = np.hypot(*(place - rim - part[:, None] * way).T).min()
        assert gap > by - 0.1
    if bow == 0.0:
        assert np.abs(np.hypot(*(inset(inset(outer, -by), by).corners - outer.corners).T)).max() < 1e-6


def test_rounds_are_read_back_from_chords():
    outer = outline_through([Corner(0.0, 0.0, round=80.0), Corner(900.0, 0.0), Corner(900.0, 500.0, round=200.0), Corner(0.0, 500.0)])  # fmt: skip
    found = with_arcs(flattened(outer))
    assert len(found.bends) == 2 and len(found.corners) == 6
    assert sorted(round(float(np.hypot(*bend.first)), 3) for bend in found.bends.values()) == [80.0, 200.0]
    ring = np.array([(np.cos(t), np.sin(t)) for t in np.arange(48) * pi / 24]) * 50.0
    assert len(with_arcs(ring).bends) == 2


def test_lines_on_a_face_stop_at_its_openings_and_marks_are_mirrored():
    window = OpeningMark(face=2, wide=1000.0, high=800.0)
    plain = opened = build_scene([box(window)])
    lined = build_scene([box(window, DivideMark(face=2, up=(0.5,)))])
    new = lined.vertices[lined.edges][len(plain.edges) :]
    assert np.round(sorted(np.sort(new[:, :, 0], axis=1).tolist()), 6).tolist() == [[0.0, 1000.0], [2000.0, 3000.0]]
    lamps = build_scene([box(window, RingMark(face=0, at=(0.2, 0.5), diameter=100.0, mirrored=True))])
    centres = lamps.rounds.rings[len(opened.rounds.rings) :, :3]
    assert np.allclose(sorted(centres[:, 1]), [60.0, 240.0]) and np.allclose(centres[:, 0], 0.0)


def test_space_is_free_where_an_opening_was_cut():
    post = Box(id="p", name="Post", corner=(1400.0, -200.0, 900.0), size=(200.0, 700.0, 200.0))
    window = OpeningMark(face=2, wide=1000.0, high=800.0)
    for wall, volume in (("solid", box()), ("open", box(window))):
        document = msgspec.structs.replace(new_document(), volumes=(volume, post))
        codes = {finding.code for finding in findings(document, solve(document).picture)}
        assert ("sharing-space" in codes) == (wall == "solid")
    room = box(size=(3000.0, 2000.0, 2400.0), wall=100.0)
    inside = msgspec.structs.replace(post, corner=(1400.0, 500.0, 100.0))
    document = msgspec.structs.replace(new_document(), volumes=(room, inside))
    assert "sharing-space" not in {f.code for f in findings(document, solve(document).picture)}
    assert len(opened_pieces(room)) >= 6


def test_files_with_openings_are_version_4_and_others_are_not():
    for volume, version in ((box(), 1), (box(wall=20.0), 4), (box(OpeningMark(face=2, wide=9.0, high=9.0)), 4)):
        document = msgspec.structs.replace(new_document(), volumes=(volume,))
        raw = msgspec.json.decode(encode_document(document))
        assert raw["version"] == version
        assert decode_document(encode_document(document)).volumes == (volume,)
        assert ("wall" in raw["volumes"][0]) == (volume.wall > 0.0)
    old = msgspec.json.encode({**raw, "version": 3, "volumes": [{"kind": "box", "id": "b", "name": "b", "corner": [0, 0, 0], "size": [1, 1, 1]}]})  # fmt: skip
    assert decode_document(old).volumes[0].wall == 0.0


@pytest.mark.parametrize("suffix", [".svg", ".pdf", ".png"])
def test_every_export_carries_openings(suffix):
    document = msgspec.structs.replace(
        new_document(), volumes=(box(OpeningMark(face=2, form="ring", wide=800.0, high=800.0)),)
    )
    plain = msgspec.structs.replace(document, volumes=(box(),))
    assert export_bytes(solve(document), Path("wall" + suffix)) != export_bytes(solve(plain), Path("wall" + suffix))
