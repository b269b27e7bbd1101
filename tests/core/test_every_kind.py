"""What holds for every kind of volume with anything laid on it: files, exports, and that only relations in space count."""

import io
import json
from xml.etree import ElementTree

import msgspec
import numpy as np
import pypdfium2
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from isometron.document.edits import delete_volumes, duplicate_volumes, move_volumes, paste_volumes
from isometron.document.fresh import new_document
from isometron.document.model import checked
from isometron.document.store.files import decode_document, encode_document
from isometron.solve.drawing import solve
from isometron.solve.marks import Role
from isometron.solve.plain_views import VIEWS, bounds_of, plain_view
from isometron.solve.report import report
from isometron.surfaces.painters.pdf import pdf_bytes
from isometron.surfaces.painters.svg import svg_text
from isometron.surfaces.tables import csv_text, json_text
from isometron.tools.handles import handles
from isometron.view.placing import place_eye
from isometron.volumes.building import build_scene
from tests.strategies import file_rules, shaped

few = settings(max_examples=30)
EYE = place_eye(height=1700.0, away=9000.0, turn_deg=-32.0, viewing_distance=450.0)


def seen(*volumes):
    made = msgspec.structs.replace(new_document(), eye=EYE)
    return checked(msgspec.structs.replace(made, volumes=tuple(volumes)), "document")


def two(draw_from):
    return st.tuples(shaped(0), shaped(1)).map(lambda found: draw_from(*found))


worlds = two(seen)


def ink(drawing, role):
    """Length on paper of all straight marks of a role, and of the arcs' axes: a fingerprint that a picture keeps."""
    ends = drawing.edges.points[drawing.edges.role == role].reshape(-1, 2, 2)
    straight = float(np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1).sum())
    shape = drawing.of("rounds").arcs.shape[drawing.of("rounds").arcs.role == role]
    bent = float(((shape[:, 2] + shape[:, 3]) * np.abs(shape[:, 6] - shape[:, 5])).sum())
    more = drawing.of("rounds").lines.points[drawing.of("rounds").lines.role == role].reshape(-1, 2, 2)
    return straight, bent, float(np.linalg.norm(more[:, 1] - more[:, 0], axis=1).sum())


def alike(one, other, within=0.05):
    for role in (Role.OBJECT, Role.HIDDEN):
        for a, b in zip(ink(one, role), ink(other, role), strict=True):
            assert a == pytest.approx(b, rel=2e-3, abs=within * 20), role


@few
@given(worlds)
def test_files_keep_all_of_it_and_the_schema_knows_it(document):
    data = encode_document(document)
    assert decode_document(data) == document
    file_rules().validate(json.loads(data))


@few
@given(worlds)
def test_everything_drawn_is_finite_and_belongs_to_someone(document):
    drawing = solve(document)
    assert np.isfinite(drawing.edges.points).all() and np.isfinite(drawing.of("rounds").arcs.shape).all()
    for owners in (drawing.edges.owner, drawing.of("rounds").arcs.owner, drawing.of("rounds").lines.owner):
        assert ((owners >= 0) & (owners < 2)).all()
    for owner, volume in enumerate(document.volumes):
        if not volume.put_away:
            assert all(np.isfinite(h.at).all() for h in handles(drawing, owner, 0.5))


@few
@given(worlds)
def test_every_surface_takes_it(document):
    drawing = solve(document)
    root = ElementTree.fromstring(svg_text(drawing))
    numbers = [float(w) for e in root.iter() for w in str(e.get("x1") or "0").split()]
    assert all(np.isfinite(numbers))
    assert len(pypdfium2.PdfDocument(pdf_bytes(drawing))) == 1
    values = report(drawing)
    assert json.loads(json_text(values)) == json.loads(json.dumps(values))
    assert len(csv_text(values).splitlines()) >= 1
    for name in VIEWS:
        view = plain_view(document, name)
        low, high = bounds_of(drawing.scene, name)
        assert np.isfinite(view.marks.lines.points).all() and (high >= low).all()


@few
@given(worlds, st.tuples(*[st.integers(-4, 4).map(lambda n: 250.0 * n)] * 2))
def test_moving_the_world_and_the_eye_alike_changes_nothing(document, shift):
    by = (*shift, 0.0)
    # The world's own planes stay, so nothing is mirrored about them.
    still = tuple(msgspec.structs.replace(volume, mirror=None) for volume in document.volumes)
    document = msgspec.structs.replace(document, volumes=still)
    moved = tuple(
        msgspec.structs.replace(v, corner=tuple(a + b for a, b in zip(v.corner, by, strict=True)))
        for v in document.volumes
    )
    eye = msgspec.structs.replace(EYE, position=tuple(a + b for a, b in zip(EYE.position, by, strict=True)))
    alike(solve(document), solve(msgspec.structs.replace(document, volumes=moved, eye=eye)))


@few
@given(worlds, st.booleans())
def test_the_order_of_the_ledger_changes_no_ink(document, away):
    turned = msgspec.structs.replace(document, volumes=document.volumes[::-1])
    assert sum(ink(solve(document), Role.OBJECT)) == pytest.approx(
        sum(ink(solve(turned), Role.OBJECT)), rel=2e-3, abs=1.0
    )
    volumes = tuple(msgspec.structs.replace(v, put_away=away) for v in document.volumes)
    drawing = solve(msgspec.structs.replace(document, volumes=volumes))
    assert (len(drawing.edges) == 0 and len(drawing.of("rounds").arcs.role) == 0) == away or not away


@few
@given(shaped(0))
def test_a_second_one_in_the_same_place_hides_nothing_of_the_first(volume):
    assume(not volume.see_through)
    alone = solve(seen(volume))
    twin = msgspec.structs.replace(volume, id="twin", name="Twin")
    both = solve(seen(volume, twin))
    one, two_ = (ink(d, Role.OBJECT)[0] for d in (alone, both))
    assert two_ <= one * 1.02 + 1.0, "no stretch of the two is ruled twice"


@few
@given(worlds)
def test_copies_of_the_document_are_independent(document):
    ids = tuple(v.id for v in document.volumes)
    doubled = duplicate_volumes(document, ids)
    assert len(doubled.document.volumes) == 4 and not set(doubled.selection) & set(ids)
    assert len({v.name for v in doubled.document.volumes}) >= 2
    again = delete_volumes(doubled.document, doubled.selection).document
    assert again.volumes == document.volumes
    pasted = paste_volumes(new_document(), document.volumes).document
    assert [v.size for v in pasted.volumes] == [v.size for v in document.volumes]


@few
@given(worlds, st.tuples(*[st.integers(-900, 900).map(float)] * 3))
def test_moving_and_moving_back_is_nothing(document, shift):
    ids = tuple(v.id for v in document.volumes if not v.locked)
    there = move_volumes(document, ids, shift).document
    back = move_volumes(there, ids, tuple(-s for s in shift)).document
    for one, other in zip(document.volumes, back.volumes, strict=True):
        assert one.corner == pytest.approx(other.corner, abs=1e-6) and one.size == other.size
    first, second = build_scene(document.volumes).vertices, build_scene(back.volumes).vertices
    assert np.allclose(first, second, atol=1e-5)


@few
@given(shaped(0))
def test_a_mirror_image_twice_is_the_same_cloud_of_corners(volume):
    from isometron.volumes.flipping import flipped

    for axis in range(3):
        once = flipped(volume, axis)
        again = flipped(once, axis)
        one, two_ = (build_scene([msgspec.structs.replace(v, mirror=None)]) for v in (volume, again))
        assert len(one.vertices) == len(two_.vertices)
        for mine, its in ((one.vertices, two_.vertices), (two_.vertices, one.vertices)):
            gaps = np.linalg.norm(mine[:, None] - its[None], axis=2).min(axis=1)
            assert gaps.max() < 1e-5 * max(1.0, float(np.abs(mine).max()))


def test_a_pdf_of_all_kinds_has_ink(qapp):
    from isometron.starters.catalogue import STARTERS, lay_starter

    document = new_document(width=594.0, height=420.0, away=30_000.0)
    for name in STARTERS:
        document = lay_starter(document, name).document
    page = pypdfium2.PdfDocument(pdf_bytes(solve(document)))[0].render(scale=1.0).to_numpy()
    assert (page < 128).sum() > 1000
    assert io.BytesIO(json_text(report(solve(document))).encode()).read()
