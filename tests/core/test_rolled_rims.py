"""Rolled rims: beads that lie on their bodies, follow them, and are refused in words; and belts along a line of a plain view."""

import msgspec
import numpy as np
import pytest

from isometron.document.edits import change_volume
from isometron.document.fresh import new_document
from isometron.document.model import DocumentError
from isometron.document.shapes.rolled_rims import rolled_rim
from isometron.document.store.files import decode_document, encode_document
from isometron.solve.drawing import solve
from isometron.solve.findings import findings
from isometron.view.placing import place_eye
from isometron.volumes.arch import Arch
from isometron.volumes.box import Box, box_corners
from isometron.volumes.building import build_scene
from isometron.volumes.cut.profiles import CutBody, CutProfile, ProfileCorner
from isometron.volumes.marks.face_marks import PathMark
from isometron.volumes.openings.solids import opened_solids, unrounded_edges
from isometron.volumes.turned import PROFILES, Turned
from tests.core.test_ray_caster import disagreements

CHEST = Box(id="b", name="Chest", corner=(-700.0, 100.0, 50.0), size=(1200.0, 600.0, 800.0), yaw_deg=25.0)
DRUM = Turned(id="t", name="Drum", corner=(-350.0, 0.0, 0.0), size=(700.0, 500.0, 900.0), axle="high")
CONE = msgspec.structs.replace(DRUM, profile=PROFILES["cone"])
WEDGE = CutBody(
    id="c", name="Wedge", corner=(-500.0, 0.0, 0.0), size=(1000.0, 600.0, 700.0), pitch_deg=10.0,
    side=CutProfile.through(ProfileCorner(at=at) for at in ((0.0, 0.0), (1.0, 0.0), (0.8, 1.0), (0.3, 1.0))),
)  # fmt: skip


def document(*volumes):
    return msgspec.structs.replace(new_document(away=4000.0, eye_height=1300.0), volumes=volumes)


def own(volume, places):
    corners, rotations = box_corners([volume])
    return (places - corners[0, 0]) @ rotations[0]


@pytest.mark.parametrize("body", [CHEST, WEDGE], ids=lambda v: v.name)
def test_a_rim_is_a_bead_round_the_section_at_its_height(body):
    found = rolled_rim(document(body), body.id, 300.0, 20.0).document
    rim = found.volumes[-1]
    assert unrounded_edges(rim) == {} and len(rim.rounded) == 8
    assert "sharing-space" not in {finding.code for finding in findings(found, solve(found).picture)}
    solids = opened_solids(rim)
    places = own(body, solids.vertices[0][solids.edges].reshape(-1, 3))
    assert places[:, 2].min() == pytest.approx(280.0) and places[:, 2].max() == pytest.approx(320.0)
    # Where the bead reaches farthest it lies its radius before the body's faces there: of the wedge's slanted ones as they are cut.
    low = 0.3 * 1000.0 * 300.0 / 700.0 if body is WEDGE else 0.0
    high = 1000.0 - 0.2 * 1000.0 * 300.0 / 700.0 if body is WEDGE else 1200.0
    assert places[:, 0].min() == pytest.approx(low - 20.0) and places[:, 0].max() == pytest.approx(high + 20.0)
    assert places[:, 1].min() == pytest.approx(-20.0) and places[:, 1].max() == pytest.approx(620.0)


@pytest.mark.parametrize(("body", "part"), [(DRUM, 1.0), (CONE, None)], ids=["drum", "cone"])
def test_a_rim_of_a_turned_body_lies_on_its_side(body, part):
    rim = rolled_rim(document(body), "t", 400.0, 15.0).document.volumes[-1]
    rings = build_scene([rim]).rounds.rings
    wide = np.interp(400.0 / 900.0, *zip(*((ring.at, ring.wide) for ring in body.profile), strict=True))
    halves = sorted(round(float(np.linalg.norm(half)), 6) for half in rings[0, 3:].reshape(2, 3))
    # On the longer half axis the bead stands out by its radius all round; its feet lie on the side.
    assert max(halves) == pytest.approx(350.0 * wide)
    assert rim.size[0] == pytest.approx(700.0 * wide + 30.0) and rim.size[2] == 30.0
    assert part is None or rim.size[1] == pytest.approx(530.0)


def test_rims_follow_their_bodies_and_come_back_from_a_file():
    for body, now in ((CHEST, (1500.0, 400.0, 800.0)), (DRUM, (900.0, 640.0, 900.0))):
        found = rolled_rim(document(body), body.id, 500.0, 25.0).document
        found = change_volume(found, body.id, "size", size=now).document
        found = change_volume(found, body.id, "move", corner=(100.0, 900.0, 0.0)).document
        rim, body = found.volumes[-1], found.volumes[0]
        assert rim.size[:2] == pytest.approx((now[0] + 50.0, now[1] + 50.0))
        middle = [np.mean(box_corners([volume])[0][0], axis=0)[:2] for volume in (rim, body)]
        assert middle[0] == pytest.approx(middle[1])
        assert decode_document(encode_document(found)) == found


def test_rims_agree_with_the_caster_on_a_drum():
    found = rolled_rim(document(msgspec.structs.replace(DRUM, size=(700.0, 700.0, 900.0))), "t", 450.0, 60.0).document
    eye = place_eye(height=1400.0, away=3000.0, turn_deg=20.0, viewing_distance=400.0)
    wrong, asked = disagreements(msgspec.structs.replace(found, eye=eye), np.random.default_rng(2), most=60)
    assert asked > 20 and wrong == []


@pytest.mark.parametrize(
    ("body", "high", "radius", "words"),
    [
        (CHEST, 10.0, 20.0, "from 20 to 780 mm"),
        (CHEST, 795.0, 20.0, "from 20 to 780 mm"),
        (CHEST, 400.0, 0.0, "middle"),
        (Arch(id="a", name="Gate", corner=(0.0, 0.0, 0.0), size=(900.0, 300.0, 900.0), pier=100.0, crown=100.0), 400.0, 20.0, "Gate is none"),
        (msgspec.structs.replace(WEDGE, plan=CutProfile.through(ProfileCorner(at=at, round=50.0) for at in ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)))), 25.0, 20.0, "straight sides"),
    ],
)  # fmt: skip
def test_what_a_rim_cannot_go_round_is_refused_in_words(body, high, radius, words):
    with pytest.raises(DocumentError, match=words):
        rolled_rim(document(body), body.id, high, radius)


def test_a_belt_along_a_line_goes_over_the_ends_too():
    """Slanting along the sides, level across the front and the rear, in one closed run."""
    line = PathMark(points=((-0.1, 0.3), (0.4, 0.5), (1.1, 0.5)), carried=True)
    for around in (False, True):
        body = msgspec.structs.replace(CHEST, marks=(msgspec.structs.replace(line, around=around),))
        scene, bare = build_scene([body]), build_scene([CHEST])
        ends = own(body, scene.vertices[scene.edges[len(bare.edges) :]].reshape(-1, 3)).reshape(-1, 2, 3)
        level = ends[np.abs(ends[:, 1] - ends[:, 0])[:, 1] > 1.0]
        assert len(level) == (2 if around else 0)
        if around:
            heights = {round(float(run[0, 0])): round(float(run[0, 2]), 3) for run in level}
            assert heights == {0: 272.0, 1200: 400.0}
            assert all(sorted(run[:, 1].round(6)) == [0.0, 600.0] for run in level)
            places = np.round(ends.reshape(-1, 3), 3)
            assert all(np.count_nonzero((places == place).all(axis=1)) % 2 == 0 for place in places)
        written = msgspec.json.decode(encode_document(document(body)))
        assert written["version"] == 4 and decode_document(encode_document(document(body))).volumes == (body,)
