"""Turned bodies: their rings are the exact ellipses, their hidden parts agree with brute-force sampling, their outlines touch."""

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from isometron.construct.outcome import NotHere
from isometron.construct.schools import construct
from isometron.document.model import Document, DocumentError, checked
from isometron.document.store.files import decode_document, encode_document
from isometron.solve.drawing import solve
from isometron.solve.marks import Role
from isometron.surfaces.painters.svg import svg_text
from isometron.view.placing import place_eye, sheet_with_horizon
from isometron.view.ring_picture import Circle, ring_picture
from isometron.volumes.box import Box
from isometron.volumes.profile import cut, profile_sides, sampled, width_at
from isometron.volumes.turned import PROFILES, ProfileRing, Turned
from tests.brute_force import covered

EYE = place_eye(height=1500.0, away=4200.0, turn_deg=32.0, viewing_distance=450.0)
SHEET = sheet_with_horizon(EYE, 420.0, 297.0, 184.0)


def document(*volumes, eye=EYE):
    return Document(sheet=SHEET, eye=eye, volumes=volumes)


def turned(name="cylinder", **fields):
    usual = {"id": name, "name": name, "corner": (0.0, 0.0, 0.0), "size": (600.0, 600.0, 800.0)}
    return Turned(**(usual | {"profile": PROFILES[name]} | fields))


def arc_points(shape, count=9):
    u, v, a, b, angle, first, last = shape
    t = np.linspace(first, last, count)
    x, y = a * np.cos(t), b * np.sin(t)
    return np.column_stack([u + x * np.cos(angle) - y * np.sin(angle), v + x * np.sin(angle) + y * np.cos(angle)])


def test_rings_are_the_exact_ellipses_of_their_circles():
    drawing = solve(document(turned()))
    for height in (0.0, 800.0):
        exact = ring_picture(EYE, Circle.of((300.0, 300.0, height), 300.0, (0, 0, 1), (1, 0, 0)))
        close = [s for s in drawing.of("rounds").arcs.shape if np.hypot(*(s[:2] - exact.centre)) < 1e-6]
        assert close, "an arc with the ellipse's own centre"
        for shape in close:
            assert shape[2:4] == pytest.approx((exact.semi_major, exact.semi_minor), abs=1e-6)
    outlines = drawing.of("rounds").lines
    assert len(outlines) == 2 and set(outlines.role) == {Role.OBJECT}
    for u1, v1, u2, v2 in outlines.points:
        for height, at in ((0.0, (u1, v1)), (800.0, (u2, v2))):
            picture = ring_picture(EYE, Circle.of((300.0, 300.0, height), 300.0, (0, 0, 1), (1, 0, 0)))
            x = np.array([*(np.array(at) / EYE.viewing_distance), 1.0])
            assert abs(x @ picture.conic @ x) < 1e-9, "the outline ends on both ellipses"
            tangent = picture.conic @ x
            along = np.array([(u2 - u1) / EYE.viewing_distance, (v2 - v1) / EYE.viewing_distance, 0.0])
            assert abs(tangent @ along) / np.hypot(*tangent[:2]) / np.hypot(*along[:2]) < 1e-6, "and touches them"


places = st.floats(-900, 900).map(lambda x: round(x, 1))
sizes = st.floats(80, 900).map(lambda x: round(x, 1))


@st.composite
def scenes(draw):
    """Two to four bodies, round and square, standing about in front of the eye."""
    volumes = []
    for number in range(draw(st.integers(2, 4))):
        kind = draw(st.sampled_from(["box", "cylinder", "cone", "frustum"]))
        fields = {
            "id": f"v{number}",
            "name": f"V{number}",
            "corner": (draw(places), draw(places), draw(st.sampled_from([0.0, 250.0]))),
            "size": (draw(sizes), draw(sizes), draw(sizes)),
            "yaw_deg": draw(st.sampled_from([0.0, 25.0])),
            "pitch_deg": draw(st.sampled_from([0.0, 0.0, 40.0])),
        }
        if kind == "box":
            volumes.append(Box(**fields))
        else:
            axle = draw(st.sampled_from(["long", "wide", "high"]))
            volumes.append(Turned(**fields, profile=PROFILES[kind], axle=axle))
    return document(*volumes)


def hidden_by_brute_force(drawing, points, owner):
    """How many of many samples along the sight lines to points (N, 3) lie in a solid."""
    eye, scene = drawing.document.eye.place, drawing.scene
    last = np.linspace(0.995, 1.0, 1001)[1:-1]  # what it only just passes through lies right before it, mostly
    along = np.concatenate([np.linspace(0.0, 0.995, 6001)[1:], last])
    met = np.zeros(len(points), dtype=int)
    frusta = scene.rounds.frusta
    for k, point in enumerate(points):
        line = eye + along[:, None] * (point - eye)
        for row in range(len(frusta)):
            local = frusta.local(np.array([row]), line[None])[0]
            radius = frusta.low[row] + (frusta.high - frusta.low)[row] * local[:, 2]
            inside = (local[:, 2] > 0) & (local[:, 2] < 1) & (np.hypot(local[:, 0], local[:, 1]) < radius - 1e-9)
            met[k] += inside.sum()
        for row, volume in enumerate(drawing.document.volumes):
            if isinstance(volume, Box):
                own = (line - np.array(volume.corner)) @ scene.rotations[row]
                met[k] += ((own > 1e-6) & (own < np.array(volume.size) - 1e-6)).all(axis=1).sum()
    return met


@settings(max_examples=25)
@given(scenes(), st.integers(0, 10_000))
def test_hidden_parts_of_rings_and_edges_agree_with_brute_force(doc, seed):
    drawing = solve(doc)
    scene, dice = drawing.scene, np.random.default_rng(seed)
    rings, owner = scene.rounds.rings, scene.rounds.ring_owner
    if len(rings) == 0:
        return
    shown = drawing.of("rounds").arcs
    for row in dice.integers(0, len(rings), 3):
        t = dice.uniform(0, 2 * np.pi, 12)
        ring = rings[row]
        points = ring[:3] + np.cos(t)[:, None] * ring[3:6] + np.sin(t)[:, None] * ring[6:9]
        paper, _ = doc.eye.project(points)
        expected = hidden_by_brute_force(drawing, points, owner[row])
        for k in range(len(t)):
            seen_gap = gap_to(shown, paper[k], owner[row], {Role.OBJECT})
            hidden_gap = gap_to(shown, paper[k], owner[row], {Role.HIDDEN})
            if abs(seen_gap - hidden_gap) < 0.35:
                continue  # at a change from seen to hidden, or where two rings of the body lie on one another on paper
            if not 0 < expected[k] < 100:  # else the sight line only grazes a body
                assert (hidden_gap < seen_gap) == (expected[k] > 0), (row, t[k])


def gap_to(arcs, at, owner, roles):
    rows = [k for k in range(len(arcs.shape)) if arcs.owner[k] == owner and arcs.role[k] in roles]
    gaps = [np.hypot(*(arc_points(arcs.shape[k], 721) - at).T).min() for k in rows]
    return min(gaps, default=np.inf)


def test_ends_of_hidden_arcs_are_within_a_hundredth_of_a_millimetre():
    doc = document(turned(), Box(id="b", name="B", corner=(250.0, -500.0, 0.0), size=(500.0, 300.0, 500.0)))
    drawing = solve(doc)
    frusta, eye = drawing.scene.rounds.frusta, doc.eye
    ends = 0
    for shape in drawing.of("rounds").arcs.shape[drawing.of("rounds").arcs.role == Role.OBJECT]:
        if shape[6] - shape[5] > 2 * np.pi - 1e-9:
            continue
        for t, sense in ((shape[5], -1.0), (shape[6], 1.0)):
            ends += 1
            for off, wanted in ((0.01, True), (-0.01, False)):
                step = off / shape[2] * sense
                at = arc_points([*shape[:5], t + step, t + step], 1)[0]
                assert drawn_hidden(doc, drawing, frusta, eye, at, shape) == wanted
    assert ends >= 2


def drawn_hidden(doc, drawing, frusta, eye, at, shape):
    """Whether the ring's point drawn at a paper place is hidden, by the exact test of every body."""
    for ring in drawing.scene.rounds.rings:
        normal = np.cross(ring[3:6], ring[6:9])
        ray = eye.ray(*at)
        point = eye.place + (normal @ (ring[:3] - eye.place)) / (normal @ ray) * ray
        if (
            abs(
                np.hypot(*(np.linalg.lstsq(np.stack([ring[3:6], ring[6:9]], 1), point - ring[:3], rcond=None)[0])) - 1
            )
            > 1e-3
        ):
            continue
        rows = np.arange(len(frusta))
        behind = covered(frusta, rows, eye.place, np.tile(point, (len(rows), 1, 1)), np.full(len(rows), 1e-6)).any()
        box = doc.volumes[1]
        start, way = eye.place - np.array(box.corner), point - eye.place
        sides = np.sort(np.stack([-start / way, (np.array(box.size) - start) / way]), axis=0)
        return bool(behind or max(sides[0].max(), 0.0) < min(sides[1].min(), 1.0))
    raise AssertionError("no ring is drawn there")


@pytest.mark.parametrize("roll_deg", [0.0, 90.0, 37.0])
def test_a_balls_outline_is_exact_whatever_its_axle(roll_deg):
    ball = turned("ball", size=(500.0, 500.0, 500.0), corner=(-200.0, 0.0, 100.0), roll_deg=roll_deg)
    drawing = solve(document(ball))
    arcs, scene = drawing.of("rounds").arcs, drawing.scene
    outline = arcs.shape[arcs.role == Role.OBJECT]
    assert len(drawing.of("rounds").lines) == 0 and not (arcs.role == Role.HIDDEN).any(), (
        "nothing of it is hidden by itself"
    )
    centre = scene.corners_of(0).mean(axis=0)
    whole = 0.0
    for shape in outline:
        whole += (shape[6] - shape[5]) / (2 * np.pi)
        for u, v in arc_points(shape):
            ray = EYE.ray(u, v) / np.linalg.norm(EYE.ray(u, v))
            gap = np.linalg.norm(np.cross(centre - EYE.place, ray))
            assert gap == pytest.approx(250.0, abs=1e-6), "every sight line of the outline touches the ball"
    assert whole == pytest.approx(1.0, abs=0.02), "and it goes all the way round"


@given(st.floats(0.05, 0.9), st.floats(-400, 400), st.floats(-400, 400), st.floats(-1500, 1500))
def test_what_a_ball_hides_is_what_the_sphere_hides(share, x, y, z):
    ball = turned("ball", size=(600.0, 600.0, 600.0), corner=(-300.0, -300.0, 0.0))
    frusta = solve(document(ball)).scene.rounds.frusta
    eye, point = EYE.place, np.array([x, 800.0 + 3000.0 * share, z])
    told = covered(frusta, np.arange(2), eye, np.broadcast_to(point, (2, 1, 3)), np.zeros(2)).any()
    way = (point - eye) / np.linalg.norm(point - eye)
    gap = np.linalg.norm(np.cross(np.array([0.0, 0.0, 300.0]) - eye, way))
    if abs(gap - 300.0) > 1e-6:
        assert told == (gap < 300.0)


def test_profiles_are_cut_into_pieces_as_told():
    at, wide = np.concatenate([sampled(side) for side in profile_sides(PROFILES["ball"])])[:, :2].T
    assert np.allclose((2 * at - 1) ** 2 + wide**2, 1.0), "two quarter rounds are a circle"
    smooth = (
        ProfileRing(at=0.0, wide=1.0, then="smooth"),
        ProfileRing(at=0.5, wide=0.4, then="smooth"),
        ProfileRing(at=1.0, wide=0.8),
    )
    at, wide = np.concatenate([sampled(side) for side in profile_sides(smooth)])[:, :2].T
    assert (wide >= 0).all() and (wide <= 1).all()
    assert [width_at(smooth, k) for k in (0.0, 0.5, 1.0)] == [1.0, 0.4, 0.8]


@pytest.mark.parametrize("name", ["wheel", "bottle"])
def test_solids_follow_the_true_side(name):
    """What hides is cut from quadrics that are right at three places each; between those they stray by next to nothing."""
    for side in profile_sides(PROFILES[name]):
        for low_at, low, high_at, high, bulge in cut(side):
            z = np.linspace(0.0, 1.0, 33)
            wide = np.sqrt((low + (high - low) * z) ** 2 + bulge * z * (1.0 - z))
            assert np.abs(wide - side.width(low_at + (high_at - low_at) * z)).max() < 6e-4 * max(
                side.one.wide, side.two.wide
            )


def test_a_ring_on_the_curve_leaves_the_body_as_it_is():
    """A ring added on a ball, half way up its lower half, neither dents it nor cuts it into more solids."""
    ball = PROFILES["ball"]
    more = (ball[0], ProfileRing(at=0.25, wide=width_at(ball, 0.25), then="round"), *ball[1:])
    assert [side.dome for side in profile_sides(more)] == [True, True]
    before, after = (solve(document(turned(profile=profile))) for profile in (ball, more))
    assert len(after.scene.rounds.frusta) == len(before.scene.rounds.frusta) == 2
    assert len(after.scene.rounds.rings) == len(before.scene.rounds.rings) + 1


def test_only_rings_that_were_set_are_drawn():
    for name, heavy in (("wheel", 2), ("bottle", 2), ("ball", 0), ("cone", 1), ("cylinder", 2)):
        parts = solve(document(turned(name, profile=PROFILES[name]))).scene.rounds
        set_rings = {(ring.at, ring.wide) for ring in PROFILES[name] if ring.wide > 0.0}
        assert len(parts.rings) == len(set_rings)
        assert (~parts.ring_soft).sum() == heavy, "at its ends, and where the side has a corner"


def test_round_things_hide_box_edges_and_are_hidden_by_boxes():
    behind = Box(id="b", name="B", corner=(100.0, 900.0, 0.0), size=(400.0, 300.0, 700.0))
    alone, both = solve(document(behind)), solve(document(behind, turned()))
    length = [np.hypot(*(d.edges.points[d.edges.role == Role.OBJECT].reshape(-1, 2, 2) @ [[1, 0], [0, 1]])[:, 1].T).sum()
              for d in (alone, both)]  # fmt: skip
    assert length[1] < length[0]
    inside = msgspec.structs.replace(behind, corner=(100.0, 100.0, 100.0), size=(300.0, 300.0, 300.0))
    swallowed = solve(document(inside, turned()))
    assert not (swallowed.edges.role == Role.OBJECT).any(), "a box inside a cylinder is wholly hidden"
    see_through = solve(document(inside, msgspec.structs.replace(turned(), see_through=True)))
    assert (see_through.edges.role == Role.OBJECT).any()
    assert set(see_through.of("rounds").arcs.role) == {Role.CONSTRUCTION, Role.HIDDEN}


@pytest.mark.parametrize("corner", [(0.0, -3900.0, 1500.0), (-2300.0, -3700.0, 0.0), (0.0, -9000.0, 0.0)])
def test_rings_at_the_eye_level_round_the_eye_and_behind_it_are_drawn_or_not_at_all(corner):
    drawing = solve(document(turned("wheel", corner=corner, face_rings=(0.7, 0.2), spokes=5)))
    assert np.isfinite(drawing.of("rounds").lines.points).all() and np.isfinite(drawing.of("rounds").arcs.shape).all()


def test_a_turned_body_is_saved_loaded_and_exported_with_true_arcs():
    doc = document(turned("bottle"), turned("wheel", id="w", axle="wide", face_rings=(0.7, 0.3), spokes=6))
    assert decode_document(encode_document(doc), "x") == doc
    text = svg_text(solve(doc))
    assert text.count("<ellipse") + text.count("A") > 8
    with pytest.raises(DocumentError, match="wide"):
        checked(turned(profile=(ProfileRing(at=0.0, wide=2.0), ProfileRing(at=1.0, wide=1.0))), "volume")


@given(st.floats(-600, 600), st.floats(-600, 600), st.floats(60, 400), st.floats(60, 400))
def test_cylinders_share_space_as_far_as_their_rings_do(x, y, one, two):
    first = turned(id="one", size=(2 * one, 2 * one, 300.0), corner=(-one, -one, 0.0))
    second = turned(id="two", size=(2 * two, 2 * two, 300.0), corner=(x - two, y - two, 100.0))
    found = [f for f in solve(document(first, second)).findings if f.code == "sharing-space"]
    gap = one + two - np.hypot(x, y)
    if gap < 0.0:
        assert not found
    elif gap > 0.036 * (one + two):
        assert [set(f.volumes) for f in found] == [{"one", "two"}]
        assert found[0].figure <= min(gap, 200.0) + 1e-6


def test_hidden_arcs_are_dashed_in_png_pdf_and_svg(qapp):
    from isometron.surfaces.painters.pdf import pdf_bytes
    from isometron.surfaces.png import png_bytes

    drawing = solve(document(turned()))
    assert (drawing.of("rounds").arcs.role == Role.HIDDEN).sum() == 1
    left_out = msgspec.structs.replace(
        drawing.document, show=msgspec.structs.replace(drawing.document.show, hidden="left out")
    )
    assert png_bytes(drawing, dpi=60) != png_bytes(solve(left_out), dpi=60)
    assert len(pdf_bytes(drawing)) > len(pdf_bytes(solve(left_out)))
    group = svg_text(drawing).split('<g id="hidden"')[1]
    assert "stroke-dasharray" in group.split(">")[0] and "hidden-cylinder" in group


@pytest.mark.parametrize(("school", "count"), [("ring-4", 4), ("ring-8", 8), ("ring-12", 12), ("template", 4)])
@given(
    st.floats(-600, 600), st.floats(150, 900), st.sampled_from(["long", "wide", "high"]), st.sampled_from([0.0, 20.0]),
    st.sampled_from([0.0, -18.0]),
)  # fmt: skip
def test_points_of_a_ring_lie_on_the_exact_ellipse(school, count, x, size, axle, yaw, tilt):
    eye = place_eye(height=1500.0, away=4200.0, turn_deg=32.0, tilt_deg=tilt, viewing_distance=450.0)
    body = turned(size=(size, size, size), corner=(round(x, 1), 0.0, 0.0), axle=axle, yaw_deg=yaw)
    doc = document(body, eye=eye)
    done = construct(doc, "cylinder", school)
    if isinstance(done, NotHere):
        assert "reasonable paper" in done.reason or "ellipse" in done.reason
        return
    assert len(done.ends) == count
    k = ("long", "wide", "high").index(axle)
    rotation = solve(doc).scene.rotations[0]
    best = np.inf
    for height in (0.0, size):
        half = np.full(3, size / 2)
        half[k] = height
        centre = np.array(body.corner) + rotation @ half
        picture = ring_picture(eye, Circle.of(centre, size / 2, rotation[:, k], rotation[:, (k + 1) % 3]))
        if picture.kind != "ellipse":
            continue
        turn = np.radians(picture.major_angle or 0.0)
        gaps = []
        for at in done.ends.values():
            gap = np.array(at) - picture.centre
            p, q = gap @ (np.cos(turn), np.sin(turn)), gap @ (-np.sin(turn), np.cos(turn))
            # Distance along the ray from the centre: at least the distance to the curve.
            gaps.append(abs(np.hypot(p / picture.semi_major, q / picture.semi_minor) - 1.0) * np.hypot(p, q))
        best = min(best, max(gaps))
    assert best < 1e-6
