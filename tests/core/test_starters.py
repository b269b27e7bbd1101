"""Starters: each is parametric, all its sizes follow its module, and it is seen well on any sheet."""

from itertools import combinations

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from isometron.demos.catalogue import demo
from isometron.document.edits import add_volume, resize_volume
from isometron.document.fresh import new_document
from isometron.document.lengths.expressions import slug
from isometron.document.model import DocumentError
from isometron.document.store.files import decode_document, encode_document
from isometron.solve.drawing import solve
from isometron.starters.catalogue import STARTERS, lay_starter
from isometron.volumes.box import Box
from isometron.volumes.building import scene_of
from isometron.volumes.turned import Turned
from isometron.volumes.volume import DIRECTIONS

every = pytest.mark.parametrize("name", sorted(STARTERS))
modules = st.floats(40.0, 3000.0).map(lambda x: round(x, 1))


def laid(name, module=None, document=None):
    return lay_starter(document or new_document(), name, module).document


def size_of(document):
    return np.ptp(scene_of(document.volumes).vertices, axis=0)


@settings(max_examples=25)
@given(st.sampled_from(sorted(STARTERS)), modules)
def test_a_starter_is_the_same_object_at_any_module(name, module):
    usual, other = laid(name), laid(name, module)
    by = module / STARTERS[name].usual
    assert size_of(other) == pytest.approx(size_of(usual) * by, rel=2e-3, abs=0.5)
    for one, two in zip(usual.volumes, other.volumes, strict=True):
        assert (one.id, one.name, one.says, one.joined and one.joined.to) == (
            two.id,
            two.name,
            two.says,
            two.joined and two.joined.to,
        )
        assert np.array(two.size) == pytest.approx(np.array(one.size) * by, rel=2e-3, abs=0.5)


@every
def test_its_module_drives_all_of_it_after_it_is_laid(name):
    """One number changed on the ledger: the framework is what it would be had it been laid with that module."""
    document = laid(name)
    module = next(v for v in document.volumes if slug(v.name) == document.module)
    changed = resize_volume(document, module.id, 0, module.size[0] * 1.5).document
    if isinstance(module, Turned):
        across = next(k for k in (1, 2) if DIRECTIONS[k] != module.axle)
        changed = resize_volume(changed, module.id, across, module.size[across] * 1.5).document
    for volume in document.volumes:
        assert changed.volume(volume.id).size == pytest.approx(np.array(volume.size) * 1.5, rel=2e-3), volume.id
        joined = changed.volume(volume.id).joined
        assert joined == volume.joined, "it is held as before"


@every
def test_it_stands_on_the_ground_and_its_parts_keep_together(name):
    document = laid(name)
    vertices = scene_of(document.volumes).vertices
    assert vertices[:, 2].min() == pytest.approx(0.0, abs=1e-3)
    assert np.abs((vertices.min(axis=0) + vertices.max(axis=0))[:2]).max() < 1.0, "in the middle of an empty sheet"
    names = {volume.id for volume in document.volumes}
    for volume in document.volumes[1:]:
        assert volume.joined is None or volume.joined.to in names
    loose = [v.id for v in document.volumes if v.joined is None]
    assert len(loose) == 1, f"carried all together by one of them, not {loose}"


@every
@pytest.mark.parametrize("paper", [(297.0, 210.0), (420.0, 594.0)])
def test_it_is_seen_whole_inside_the_sheet_without_a_warning(name, paper):
    document = laid(name, document=new_document(width=paper[0], height=paper[1]))
    drawing = solve(document)
    assert [finding.message for finding in drawing.findings] == []
    left, lower, right, upper = document.sheet.rectangle
    paper_points = drawing.picture.paper
    assert (paper_points > (left, lower)).all() and (paper_points < (right, upper)).all()
    assert max(np.ptp(paper_points, axis=0) / (right - left, upper - lower)) > 0.6, "and large enough to draw over"
    assert document.eye.position[2] <= 1500.0, "nobody climbs a ladder to see it"


@every
def test_it_is_laid_beside_what_is_there_and_the_eye_stays(name):
    before = add_volume(
        new_document(), Box(id="old", name="Old", corner=(0.0, 0.0, 0.0), size=(500.0, 400.0, 300.0))
    ).document
    edit = lay_starter(before, name)
    assert edit.document.eye == before.eye and edit.document.volume("old") == before.volume("old")
    own = scene_of([v for v in edit.document.volumes if v.id in edit.selection]).vertices
    assert own[:, 0].min() > 500.0
    assert edit.document.module == before.module, "the module that was chosen is not taken away"


@every
def test_it_survives_its_file_and_a_second_one_is_driven_by_its_own_names(name):
    document = laid(name)
    assert decode_document(encode_document(document)) == document
    both = lay_starter(document, name).document
    half = len(document.volumes)
    first, second = both.volumes[:half], both.volumes[half:]
    assert not {v.id for v in first} & {v.id for v in second}
    assert not {v.name for v in first} & {v.name for v in second}
    for volume in second:
        assert volume.joined is None or volume.joined.to in {v.id for v in second}
        assert volume.mirror is None or not volume.mirror.about or volume.mirror.about in {v.id for v in second}
    axis = int(np.argmax(first[0].size))
    changed = resize_volume(both, first[0].id, axis, first[0].size[axis] * 1.2).document
    assert [v.size for v in changed.volumes[half:]] == [v.size for v in second], (
        "the second does not follow the first"
    )


def test_wheels_of_the_low_car_are_four_in_one_set_of_numbers():
    document = laid("low-car", 600.0)
    drawing = solve(document)
    wheel = document.volume("wheel")
    rings = drawing.scene.rounds
    outer = rings.rings[np.isclose(np.hypot(*rings.rings[:, [3, 5]].T), 300.0, atol=1.0)]
    centres = np.unique(outer[:, [0, 2]].round(1), axis=0)
    assert len(centres) == 2 and centres[:, 1] == pytest.approx(300.0), "two axles, standing on the ground"
    assert np.ptp(centres[:, 0]) == pytest.approx(wheel.copies[0].pitch)
    sides = np.sort(np.unique(outer[:, 1].round(1)))
    body = document.volume("body")
    middle = body.corner[1] + body.size[1] / 2
    assert sides + sides[::-1] == pytest.approx(2 * middle), "the far side is the mirror image of the near side"


@every
def test_no_two_parts_are_the_same_and_none_is_without_size(name):
    document = laid(name)
    for one, two in combinations(document.volumes, 2):
        assert (one.corner, one.size) != (two.corner, two.size)
    for volume in document.volumes:
        assert min(volume.size) > 0.0 and all(np.isfinite(volume.corner))


def test_names_and_modules_that_are_none_are_refused_with_a_remedy():
    with pytest.raises(DocumentError, match=r"no starter called 'sofa'\. Known: .*low-car"):
        lay_starter(new_document(), "sofa")
    for module in (0.0, -4.0, 1e9, float("nan")):
        with pytest.raises(DocumentError, match="between 1 mm and 100 m"):
            lay_starter(new_document(), "stool", module)


@pytest.mark.parametrize("name", ["perch-stool", "stall-row", "ember-lantern", "tea-cart"])
def test_demos_made_with_them_are_whole(name):
    document = demo(name)
    assert [f.message for f in solve(document).findings] == []
    assert decode_document(encode_document(document)) == document
    names = {v.name for v in document.volumes}
    assert len(names) == len(document.volumes)
    shown = msgspec.structs.replace(document, volumes=document.volumes[:1])
    assert len(solve(shown).edges) + len(solve(shown).of("rounds").arcs.role) > 0


def test_a_second_starter_is_laid_beside_the_first_in_line_with_it():
    first = lay_starter(new_document(), "low-car").document
    both = lay_starter(first, "stool").document
    old = scene_of(first.volumes).vertices
    new = scene_of(both.volumes[len(first.volumes) :]).vertices
    long = float(np.ptp(new[:, 0]))
    assert new[:, 0].min() == pytest.approx(old[:, 0].max() + 0.25 * long)
    assert new[:, 1].min() == pytest.approx(old[:, 1].min())
