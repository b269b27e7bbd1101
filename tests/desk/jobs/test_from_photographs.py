"""Frameworks taken from photographs with known truth, as a newcomer does them: every action counted, every label in sight."""

import numpy as np
import pytest
from PyQt6.QtCore import Qt

from isometron.document.pictures.placing import in_place
from isometron.match.picture_eye import answer_of
from isometron.volumes.framed import Framed
from tests.desk.photographer import Photographer

KEY = Qt.Key


def true_box(person):
    """The first box of the photograph's truth: its first corner, its directions (3, 3), its sizes."""
    box = person.truth["objects"][0]["boxes"][0]
    return np.array(box["corner_world"]), np.array(box["axes"]), box["size"]


def horizon_error(person):
    """How far the horizon lies from where it truly is, px of the photograph, at both its sides."""
    answer = answer_of(person.picture)
    ends = person.truth["horizon"]["ideal"]
    return max(abs(figure.value - y) for figure, (_, y) in zip(answer.horizon, ends, strict=True))


def is_truly(person, axis, length):
    """Type how long the selected volume truly is, beside the photograph's pencils."""
    person.type_into(person.part("Eye", "Photograph")._own[axis], length)


def eye_height(person, height):
    person.type_into(person.named(person.part("Eye", "Height and turn"), "Eye height"), height)


def test_a_chair_drawn_anew_from_a_higher_eye(home, desk):
    person = Photographer(desk(), "P02", tremble=1.0)
    person.mark_edges([0, 1, 3, 4, 5, 6, 7])
    assert horizon_error(person) < 60.0
    corner, (along, across, up), (long, wide, _) = true_box(person)
    foot = corner - 405.0 * up
    person.key(KEY.Key_F)
    person.click(person.at(person.seen(*foot), steady=True))
    ends = foot + np.cumsum([long * along, wide * across, 450.0 * up], axis=0)
    whole = person.pull_block(foot, *ends)
    is_truly(person, 2, "450")
    shape = person.part("Block", "Shape")
    person.menu(shape.names, "frame: legs, rails, top")
    person.field(shape.rows, "legs", "45")
    back = person.pull_block(ends[2], ends[2] - long * along, ends[2] - long * along - 30.0 * across,
                             ends[2] - long * along - 30.0 * across + 370.0 * up)  # fmt: skip
    eye_height(person, "2200")
    document = person.session.document
    framed, back = document.volume(whole.id), document.volume(back.id)
    assert isinstance(framed, Framed) and framed.size == pytest.approx((420.0, 400.0, 450.0), rel=0.05)
    assert framed.leg[0] == pytest.approx(45.0) and back.joined.to == framed.id and 300.0 < back.size[2] < 440.0
    assert document.eye.position[2] == pytest.approx(2200.0) and not in_place(document, person.picture)
    assert person.actions <= 33, person.actions


def test_a_van_shortened_from_a_lower_eye_as_pdf(home, desk, tmp_path, monkeypatch):
    person = Photographer(desk(), "P06", tremble=1.0)
    person.mark_edges([1, 2, 4, 5, 6, 7])
    corner, (along, across, up), (long, wide, high) = true_box(person)
    person.key(KEY.Key_F)
    person.click(person.at(person.seen(*corner), steady=True))
    body = person.pull_block(corner, *(corner + np.cumsum([long * along, wide * across, high * up], axis=0)))
    longest = int(np.argmax(body.size))
    is_truly(person, longest, "3000")
    assert person.session.document.volumes[0].size[longest] == pytest.approx(3000.0)
    assert sorted(person.session.document.volumes[0].size) == pytest.approx(
        sorted(3000.0 * np.array([long, wide, high]) / max(long, wide, high)), rel=0.08
    )
    person.ledger(0, longest, "2600")
    eye_height(person, "900")
    document = person.session.document
    assert document.volumes[0].size[longest] == pytest.approx(2600.0) and document.eye.position[2] == pytest.approx(
        900.0
    )
    person.hand_on("PDF sheet…", tmp_path / "van.pdf", monkeypatch)
    assert (tmp_path / "van.pdf").read_bytes().startswith(b"%PDF")
    assert person.actions <= 26, person.actions


def test_a_vessel_by_its_outline(home, desk):
    """Crate edges give the eye, the outline that is followed the vessel: 240 wide, 736 high, a lip of 112 in truth."""
    person = Photographer(desk(), "P08", tremble=1.0)
    person.mark_edges([0, 1, 2, 3, 4, 5, 6, 7])
    person.key(KEY.Key_Q)
    person.pull(person.at((386.0, 1158.0)), person.at((585.0, 1158.0)))
    person.key(KEY.Key_Return)
    person.key(KEY.Key_Return)
    (vessel,) = person.session.document.volumes
    scale = person.truth["camera"]["position"][2] / person.picture.camera.position[2]
    assert vessel.size[0] * scale == pytest.approx(241.2, rel=0.02)
    assert vessel.size[2] * scale == pytest.approx(728.0, rel=0.015), "up to the top of the lip"
    assert person.actions <= 16, person.actions
