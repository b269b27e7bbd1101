"""Wheel arches: concentric with their wheels, whatever becomes of the body, the row and the wheels."""

import numpy as np
import pytest

from isometron.document.edits import add_volume, change_volume, move_volumes, resize_volume
from isometron.document.fresh import new_document
from isometron.document.model import DocumentError
from isometron.document.shapes.profiles import begin_profile, both_alike, put_profile
from isometron.document.shapes.wheel_arches import cut_arches, wheels_beside
from isometron.document.store.files import decode_document, encode_document
from isometron.volumes.box import Box
from isometron.volumes.cut.body import uncut_because
from isometron.volumes.cut.profiles import CutProfile, ProfileCorner, profile_outline, view_size
from isometron.volumes.relations import Repeat
from isometron.volumes.turned import PROFILES, Turned


def wheeled(floor=200.0, **fields):
    body = Box(id="body", name="Body", corner=(0.0, 0.0, floor), size=(4000.0, 1600.0, 700.0))
    wheel = Turned(id="wheel", name="Road wheel", corner=(500.0, -60.0, 0.0), size=(600.0, 200.0, 600.0), axle="wide",
                   profile=PROFILES["wheel"], **fields)  # fmt: skip
    return add_volume(add_volume(new_document(), body).document, wheel).document


def bends_of(document):
    body = document.volume("body")
    outline = profile_outline(body.side, "side", view_size(body, "side"))
    assert not uncut_because(body)
    return sorted((*np.round(b.centre, 6), round(float(np.hypot(*b.first)), 6)) for b in outline.bends.values())


def test_arches_follow_a_row_of_wheels_whichever_way_the_outline_goes_round():
    row = (Repeat(along="long", count=3, pitch=1100.0),)
    wanted = [(800.0 + k * 1100.0, 100.0, 342.0) for k in range(3)]
    document = wheeled(copies=row)
    cut = cut_arches(document, "body", "wheel").document
    assert np.allclose(bends_of(cut), wanted, atol=1e-5)
    assert np.allclose(bends_of(resize_volume(cut, "body", 0, 5000.0).document), wanted, atol=1e-5)
    moved = move_volumes(cut, ["wheel"], (50.0, 0.0, 20.0)).document
    assert np.allclose(bends_of(moved), [(x + 50.0, z + 20.0, r) for x, z, r in wanted], atol=1e-5)
    closer = change_volume(cut, "wheel", "pitch", copies=(Repeat(along="long", count=3, pitch=1000.0),)).document
    assert [x for x, _, _ in bends_of(closer)] == pytest.approx([800.0, 1800.0, 2800.0])
    other = CutProfile.through(ProfileCorner(at=at) for at in ((0.0, 0.0), (0.0, 1.0), (1.0, 1.0), (1.0, 0.0)))
    round_ = put_profile(document, "body", "side", other, "x").document
    assert np.allclose(bends_of(cut_arches(round_, "body", "wheel").document), wanted, atol=1e-5)
    turned = change_volume(document, "body", "turn", yaw_deg=180.0, corner=(4000.0, 1600.0, 200.0)).document
    cut = cut_arches(turned, "body", "wheel").document
    closer = change_volume(cut, "wheel", "pitch", copies=(Repeat(along="long", count=3, pitch=1000.0),)).document
    assert [x for x, _, _ in bends_of(closer)] == pytest.approx([1200.0, 2200.0, 3200.0]), (
        "the body's length runs against the row"
    )
    back = wheeled(copies=(Repeat(along="long", count=2, pitch=-1100.0),))
    back = move_volumes(back, ["wheel"], (1100.0, 0.0, 0.0)).document
    cut = cut_arches(back, "body", "wheel").document
    assert np.allclose(bends_of(cut), wanted[:2], atol=1e-5)
    assert np.allclose(bends_of(decode_document(encode_document(cut))), wanted[:2], atol=1e-5)


def test_an_axle_below_the_body_gives_a_flat_bow_and_what_cannot_be_is_told():
    cut = cut_arches(wheeled(floor=420.0), "body", "wheel").document
    ((x, z, radius),) = bends_of(cut)
    assert (x, z, radius) == pytest.approx((800.0, -120.0, 342.0))
    assert wheels_beside(cut, "body") == [cut.volume("wheel")]
    for document, words in (
        (wheeled(floor=700.0), "too far below"),
        (move_volumes(wheeled(), ["wheel"], (-500.0, 0.0, 0.0)).document, "run over a corner"),
        (change_volume(wheeled(), "wheel", "turn", axle="high").document, "does not run straight across"),
        (both_alike(begin_profile(wheeled(), "body", "side").document, "body", "side", True).document, "alike"),
    ):
        with pytest.raises(DocumentError, match=words):
            cut_arches(document, "body", "wheel")
    assert wheels_beside(change_volume(wheeled(), "wheel", "turn", axle="high").document, "body") == []
