"""Roofs over blocks and fences: where they lie, how they follow, and what is refused."""

from math import cos, radians, tan

import msgspec
import numpy as np
import pytest

from isometron.document.edits import resize_volume
from isometron.document.fresh import new_document
from isometron.document.model import DocumentError
from isometron.document.shapes.roofs import ROOFS, fence, roof_over
from isometron.document.store.files import decode_document, encode_document
from isometron.solve.drawing import solve
from isometron.solve.findings import findings
from isometron.volumes.box import Box
from isometron.volumes.copies import copies_of
from isometron.volumes.kinds import own_faces

WALLS = Box(id="w", name="Walls", corner=(500.0, 0.0, 0.0), size=(4000.0, 3000.0, 2400.0), yaw_deg=30.0)
GIVEN = {"slope_deg": 40.0, "eaves": 300.0, "gable": 200.0, "thick": 120.0}


def house(kind, walls=WALLS, **given):
    document = msgspec.structs.replace(new_document(away=15000.0), volumes=(walls,))
    return roof_over(document, "w", kind, **(GIVEN | given)).document


@pytest.mark.parametrize("kind", ROOFS)
@pytest.mark.parametrize("size", [(4000.0, 3000.0, 2400.0), (3000.0, 5000.0, 2400.0)])
def test_a_roof_has_its_slope_thickness_and_overhangs_and_lies_on_the_walls(kind, size):
    document = house(kind, msgspec.structs.replace(WALLS, size=size))
    walls, roof = document.volumes
    along = 0 if size[0] >= size[1] else 1
    over = (300.0, 300.0) if kind == "hipped" else (200.0, 300.0)
    assert roof.size[along] == pytest.approx(walls.size[along] + 2 * over[0])
    assert roof.size[1 - along] == pytest.approx(walls.size[1 - along] + 2 * over[1])
    slopes = [face for face in own_faces(roof).values() if 0.1 < face.outward[2] < 0.99]
    assert len(slopes) == {"gabled": 2, "hipped": 4, "lean-to": 1}[kind]
    assert [face.outward[2] for face in slopes] == pytest.approx([cos(radians(40.0))] * len(slopes))
    under = [face for face in own_faces(roof).values() if face.outward[2] < -0.1]
    if kind == "hipped":
        assert len(under) == 1 and roof.corner[2] == pytest.approx(2400.0)
    else:
        # Square to its slope the slab is as thick as given, and its underside goes through the top edge of the lower walls.
        for above in slopes:
            below = next(face for face in under if face.outward @ above.outward == pytest.approx(-1.0))
            assert (above.corner - below.corner) @ above.outward == pytest.approx(120.0)
            tops = [face for face in own_faces(walls).values() if face.outward @ above.outward == pytest.approx(1.0)]
            assert len(tops) == 1 and (tops[0].corner - below.corner) @ above.outward == pytest.approx(0.0, abs=1e-5)
    drawing = solve(document)
    assert [f.code for f in findings(document, drawing.picture) if f.code in ("overlap", "uncut", "gap")] == []
    assert decode_document(encode_document(document)) == document


def test_a_roof_follows_its_walls():
    document = house("gabled")
    document = resize_volume(document, "w", 0, 6000.0).document
    document = resize_volume(document, "w", 1, 4000.0).document
    walls, roof = document.volumes
    assert roof.size[:2] == pytest.approx((6400.0, 4600.0))
    assert roof.size[2] == pytest.approx(tan(radians(40.0)) * 1800.0 + 120.0 / cos(radians(40.0)))
    off = np.array(roof.corner) - np.array(walls.corner)
    assert np.hypot(*off[:2]) == pytest.approx(np.hypot(200.0, 300.0))


def test_what_is_no_roof_is_refused():
    for kind, given, words in (("gabled", {"slope_deg": 85.0}, "slope"), ("hipped", {"thick": 0.0}, "thickness")):
        with pytest.raises(DocumentError, match=words):
            house(kind, **given)
    with pytest.raises(DocumentError, match="upright block"):
        house("gabled", msgspec.structs.replace(WALLS, pitch_deg=10.0))


@pytest.mark.parametrize("before", [True, False])
def test_a_fence_has_posts_by_pitch_and_rails(before):
    given = {
        "long": 6200.0,
        "high": 1100.0,
        "by": "pitch",
        "apart": 2000.0,
        "post": 90.0,
        "rails": 3,
        "thick": 35.0,
        "before": before,
    }
    document = fence(msgspec.structs.replace(new_document(), volumes=(WALLS,)), **given).document
    _, posts, rails = document.volumes
    assert [copy.corner[0] for copy in copies_of(posts, dict)] == [0.0, 2000.0, 4000.0, 6000.0]
    assert rails.size == pytest.approx((6090.0, 35.0, 56.0)) and len(copies_of(rails, dict)) == 3
    assert posts.group == rails.group
    middle = rails.corner[1] - posts.corner[1]
    assert middle == pytest.approx(-35.0 if before else 27.5)
    with pytest.raises(DocumentError, match="400"):
        fence(document, **(given | {"long": 1e6}))
    with pytest.raises(DocumentError, match="gap"):
        fence(document, **(given | {"apart": 50.0}))
    for by, apart in (("posts", 4), ("gap", 1910.0)):
        other = fence(document, **(given | {"by": by, "apart": apart, "long": 6090.0})).document.volumes[-2]
        assert other.copies[0] == posts.copies[0], by
