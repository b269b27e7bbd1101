"""While a few of many volumes change, the drawing is the same as if all were solved, though only what they meet is."""

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from isometron.demos.catalogue import demo
from isometron.document.edits import change_volume, delete_volumes, duplicate_volumes
from isometron.document.eyes.eye_edits import turn_object
from isometron.document.fresh import new_document
from isometron.solve.again import Again, changed_rows
from isometron.solve.drawing import solve
from isometron.solve.layers.register import LAYERS
from isometron.view.placing import place_eye
from isometron.volumes.box import Box
from isometron.volumes.building import build_scene
from isometron.volumes.kinds import kind_of
from isometron.volumes.marks.mark_parts import mark_edges, mark_rounds
from isometron.volumes.openings.solids import is_carved, opened_rounds, opened_solids
from isometron.volumes.relations import Mirror
from tests.strategies import places, shaped

EYE = place_eye(height=6000.0, away=40000.0, turn_deg=-20.0, tilt_deg=-8.0, viewing_distance=450.0)


def table(*columns):
    """Marks as rows in an order of their own."""
    rows = np.column_stack(columns).astype(float)
    return rows[np.lexsort(np.round(rows, 5).T)]


def tables(drawing):
    arcs = drawing.of("rounds").arcs
    return [table(lines.points, lines.role, lines.owner, lines.edge) for lines in (drawing.edges, drawing.of("rounds").lines)] + [
        table(arcs.shape, arcs.role, arcs.owner)
    ]  # fmt: skip


def same_drawing(one, other):
    for found, expected in zip(tables(one), tables(other), strict=True):
        assert found.shape == expected.shape
        np.testing.assert_allclose(found, expected, atol=1e-5)
    for name, layer in LAYERS.items():
        if layer.bounds is None:
            np.testing.assert_allclose(one.of(name).lines.points, other.of(name).lines.points, atol=1e-6)
            assert one.of(name).labels == other.of(name).labels


def spread(*volumes):
    """A world of some volumes between many boxes that stand in a row, far apart."""
    row = [
        Box(id=f"b{k}", name=f"Post {k}", corner=(4500.0 * k - 22000.0, 5000.0, 0.0), size=(900.0, 700.0, 1500.0))
        for k in range(10)
    ]
    made = new_document()
    return msgspec.structs.replace(made, eye=EYE, volumes=(*row[:5], *volumes, *row[5:]))


changes = st.one_of(
    st.tuples(places, places).map(lambda p: {"corner": (*p, 100.0)}),
    st.builds(lambda size: {"size": (size, 300.0, 2.0 * size)}, st.floats(50.0, 2500.0)),
    st.sampled_from([{"yaw_deg": 77.0}, {"pitch_deg": 20.0}, {"see_through": True}, {"put_away": True}]),
)


@settings(max_examples=40)
@given(shaped(0), shaped(1), changes)
def test_a_changed_volume_of_any_kind_is_drawn_as_if_all_were_solved(changed, beside, fields):
    document = spread(changed, msgspec.structs.replace(beside, mirror=Mirror(about=changed.id)), beside.__class__(
        **{n: getattr(beside, n) for n in beside.__struct_fields__} | {"id": "v2", "joined": None}))  # fmt: skip
    again = Again(solve(document))
    after = change_volume(document, changed.id, "change", **fields).document
    drawing = again.solve(after)
    same_drawing(drawing, solve(after))
    np.testing.assert_allclose(drawing.scene.vertices, solve(after).scene.vertices, atol=1e-9)
    assert (drawing.scene.edges == solve(after).scene.edges).all()


@pytest.mark.parametrize("name", ["tea-cart", "perch-stool", "ember-lantern", "stall-row", "three-rows"])
def test_every_volume_of_the_demos_may_be_dragged(name):
    document = demo(name)
    again = Again(solve(document))
    for volume in document.volumes:
        for step in (15.0, 340.0):
            x, y, z = volume.corner
            after = change_volume(document, volume.id, "move", corner=(x + step, y - step, z)).document
            same_drawing(again.solve(after), solve(after))


def test_what_is_far_from_a_change_keeps_its_marks():
    document = spread()
    base = solve(document)
    after = change_volume(document, "b3", "move", corner=(-8000.0, 5200.0, 0.0)).document
    drawing = Again(base).solve(after)
    assert "scene" not in vars(drawing.picture), "nobody asked for the whole scene, so nobody built it"
    same_drawing(drawing, solve(after))
    moved = drawing.boxes[3] - base.boxes[3]
    assert np.abs(moved).min() > 1e-3 and (np.delete(drawing.boxes - base.boxes, 3, axis=0) == 0.0).all()


def test_only_changed_volumes_and_their_mirror_images_count_as_changed():
    document = spread(
        Box(id="i", name="Image", corner=(0.0, 0.0, 0.0), size=(1.0, 1.0, 1.0), mirror=Mirror(about="b7"))
    )
    after = change_volume(document, "b7", "move", corner=(0.0, 0.0, 0.0)).document
    assert changed_rows(document, after) == [5, 8]
    assert changed_rows(document, document) == []
    same_drawing(Again(solve(document)).solve(document), solve(document))
    for other in (
        turn_object(document, 40.0).document,
        delete_volumes(document, ["b1"]).document,
        duplicate_volumes(document, ("b1",)).document,
        msgspec.structs.replace(document, show=msgspec.structs.replace(document.show, names=True)),
        msgspec.structs.replace(document, unit="in"),
    ):
        assert changed_rows(document, other) is None
        same_drawing(Again(solve(document)).solve(other), solve(other))


@settings(max_examples=40)
@given(shaped(0))
def test_a_shape_built_at_rest_and_placed_is_what_is_built_in_place(volume):
    volume = msgspec.structs.replace(volume, copies=(), mirror=None)
    scene, kind = build_scene([volume]), kind_of(type(volume))
    solids = opened_solids(volume) if is_carved(volume) else kind.solids([volume])
    marks = mark_edges(volume).ends.reshape(-1, 3) if volume.marks else np.zeros((0, 3))
    np.testing.assert_allclose(scene.vertices, np.concatenate([solids.vertices[0], marks]), atol=1e-8)
    np.testing.assert_allclose(scene.bodies.offsets, solids.bodies.offsets, atol=1e-8)
    own = opened_rounds if is_carved(volume) else kind.rounds
    parts = [own(volume, 0)] if own else []
    parts += [mark_rounds(volume, 0)] if volume.marks else []
    for name in ("rings", "strokes", "holes"):
        expected = [getattr(part, name) for part in parts] or [getattr(scene.rounds, name)[:0]]
        np.testing.assert_allclose(getattr(scene.rounds, name), np.concatenate(expected), atol=1e-8)
    pieces = [part.frusta.base for part in parts] or [np.zeros((0, 3))]
    np.testing.assert_allclose(scene.rounds.frusta.base, np.concatenate(pieces), atol=1e-8)
