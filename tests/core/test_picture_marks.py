"""Marks on a picture: caught by its edges, told apart, dragged; the scale; what is traced; how sure it all is."""

import json
import subprocess
import sys
from itertools import product

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image, ImageDraw

from isometron.document.eyes.keeping import keep_eye
from isometron.document.fresh import new_document
from isometron.document.pictures.marks import LineMark, RingOnPicture
from isometron.document.pictures.picture_edits import change_picture
from isometron.document.pictures.placing import in_place, picture_under, to_paper
from isometron.document.pictures.sheet_picture import TrueLength
from isometron.document.store.files import save_document
from isometron.geometry.conics import ellipse_of, ellipse_through
from isometron.geometry.visible import PlaneFace
from isometron.match.answer import followed_by, matched
from isometron.match.bundles import direction_of
from isometron.match.labelling import level_labels
from isometron.match.marking import (
    add_line,
    add_point,
    add_ring,
    move_point,
    remove_mark,
    set_corner,
    set_kind,
    set_size,
    set_true,
    set_whole,
)
from isometron.match.outline import axle_between, profile_of_outline
from isometron.match.picture_eye import answer_of, marks_of, with_eye
from isometron.match.scale import line_in_world, ring_on_ground, true_length
from isometron.match.told_sizes import sure_sizes
from isometron.pictures.edges import bowed, caught_line, caught_ring
from isometron.pictures.turned_outline import few_of, outline_about
from isometron.solve.drawing import solve
from isometron.view.eye import Eye
from isometron.view.vanishing import vanishing
from isometron.volumes.box import Box
from tests.core.test_match import figures
from tests.core.test_match import marks_of as true_marks
from tests.pictures import PHOTOS, photographed, plain_picture, seen, truth

FEW = settings(max_examples=30, deadline=None, derandomize=True)
SHOWN = ("P01", "P02", "P06", "P08")


def grey(name):
    return np.asarray(Image.open(PHOTOS / f"{name}.jpg").convert("L"))


# --- catching -----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("name", SHOWN)
def test_lines_begun_six_pixels_off_come_out_as_good_as_one_pixel_marks(name):
    photo, picture, rng = truth(name), grey(name), np.random.default_rng(4)
    caught_off, by_hand, missed = [], [], 0
    for mark in photo["marks"]["edges"]:
        exact = np.array(mark["exact"])
        way = (exact[1] - exact[0]) / np.hypot(*(exact[1] - exact[0]))
        across = np.array([-way[1], way[0]])
        angle = rng.uniform(0, 2 * np.pi, 2)
        start = exact + 6.0 * np.column_stack([np.cos(angle), np.sin(angle)])
        caught = caught_line(picture, tuple(start[0]), tuple(start[1]))
        missed += caught is None
        if caught is not None:
            caught_off.append(np.abs((caught.points - exact) @ across).max())
        by_hand.append(np.abs((np.array(mark["px1"]) - exact) @ across).max())
    assert missed <= 2
    assert np.median(caught_off) < 0.5 * np.median(by_hand)
    assert np.quantile(caught_off, 0.75) < np.quantile(by_hand, 0.75)


def test_the_eye_from_caught_marks_is_as_good_as_from_one_pixel_marks():
    ours, theirs, told = [], [], []
    for name, seed in product(SHOWN, (1, 2, 3)):
        photo, picture, rng = truth(name), grey(name), np.random.default_rng(seed)
        marks = msgspec.structs.replace(true_marks(photo, "px1"), rings=())
        lines = []
        for line, mark in zip(marks.lines, photo["marks"]["edges"], strict=False):
            exact = np.array(mark["exact"])
            angle = rng.uniform(0, 2 * np.pi, 2)
            start = exact + 6.0 * np.column_stack([np.cos(angle), np.sin(angle)])
            caught = caught_line(picture, tuple(start[0]), tuple(start[1]))
            if caught is not None:
                lines.append(msgspec.structs.replace(line, points=tuple(map(tuple, caught.points))))
        f, answer = photo["camera"]["f_px"], matched(msgspec.structs.replace(marks, lines=tuple(lines)))
        ours.append(abs(answer.focal.value / f - 1.0))
        for figure, value in figures(photo, answer):
            told.append(abs(figure.value - value) <= figure.pm95)
        if seed == 1:
            theirs.append(abs(matched(marks).focal.value / f - 1.0))
    assert np.median(ours) <= np.median(theirs) and max(ours) <= 0.04
    assert np.mean(told) >= 0.9, "truth inside its plus-minus"


@FEW
@given(st.integers(0, 2**31), st.sampled_from([1.0, 3.0, 5.0]))
def test_a_drawn_edge_is_caught_finer_than_a_pixel(seed, unit):
    """Edges of a polygon drawn eight times as large: found within a tenth of a pixel, also where a hand points at many at once."""
    rng = np.random.default_rng(seed)
    big = Image.new("L", (2400, 1600), int(rng.integers(150, 255)))
    corners = [tuple(map(float, p)) for p in rng.uniform([300, 300], [2100, 1300], (2, 2))]
    (x1, y1), (x2, y2) = corners
    if np.hypot(x2 - x1, y2 - y1) < 900:
        return
    way = np.array([x2 - x1, y2 - y1]) / np.hypot(x2 - x1, y2 - y1)
    side = np.array([-way[1], way[0]])
    far = 3000.0
    a, b = np.array(corners[0]) - far * way, np.array(corners[1]) + far * way
    ImageDraw.Draw(big).polygon(
        [tuple(a), tuple(b), tuple(b + far * side), tuple(a + far * side)], fill=int(rng.integers(0, 110))
    )
    small = np.asarray(big.resize((600, 400), Image.Resampling.BOX))
    ends = (np.array(corners) + 0.5) / 4.0 - 0.5
    start = ends + rng.uniform(-1.2, 1.2, (2, 2)) * unit
    caught = caught_line(small, tuple(start[0]), tuple(start[1]), unit)
    assert caught is not None and caught.sure > 0.8
    assert np.abs((caught.points - ends) @ side).max() < 0.2


def test_a_bowed_edge_gets_points_on_its_bow_and_a_straight_one_none():
    image = Image.new("L", (4000, 1600), 230)
    t = np.linspace(0.0, 1.0, 400)
    arc = np.column_stack([400 + 3200 * t, 900 + 4 * 4 * 12.0 * t * (1 - t)])
    ImageDraw.Draw(image).polygon([*map(tuple, arc), (3600, 1599), (400, 1599)], fill=60)
    small = np.asarray(image.resize((1000, 400), Image.Resampling.BOX))
    points = bowed(small, np.array([[100.0, 225.0], [900.0, 225.0]]), reach=16.0)
    assert len(points) == 5 and points[2, 1] - points[0, 1] == pytest.approx(12.0, abs=0.6)
    flat = np.asarray(
        Image.fromarray(np.where(np.arange(400)[:, None] < 200, 230, 60).astype(np.uint8).repeat(1000, axis=1))
    )
    straight = caught_line(flat, (105.0, 202.0), (895.0, 198.0))
    assert straight is not None and len(bowed(flat, straight.points)) == 2


def test_points_of_a_ring_are_caught_by_its_rim():
    big = Image.new("L", (2400, 1600), 240)
    ImageDraw.Draw(big).ellipse([600, 500, 1700, 1000], fill=40)
    small = np.asarray(big.resize((600, 400), Image.Resampling.BOX))
    centre, a, b = np.array([1150.5, 750.5]) / 4 - 0.5, 550 / 4, 250 / 4
    angle = np.array([0.3, 1.4, 2.6, 4.0, 5.3])
    rim = centre + np.column_stack([a * np.cos(angle), b * np.sin(angle)])
    rough = rim + np.random.default_rng(2).normal(0, 1.6, rim.shape)
    once = caught_ring(small, rough)
    caught = caught_ring(small, once, 3.0)
    off = np.abs(np.hypot((caught[:, 0] - centre[0]) / a, (caught[:, 1] - centre[1]) / b) - 1.0) * b
    assert off.max() < 0.3
    u, v, long, short, _ = ellipse_of(ellipse_through(caught))
    assert (
        (u, v) == pytest.approx(tuple(centre), abs=2.5)
        and long == pytest.approx(a, rel=0.05)
        and short == pytest.approx(b, rel=0.05)
    )
    assert ellipse_through(rim[:4]) is None


def turned_picture(axle, turn_deg, rim, form, times):
    """A body of level rings drawn on boards, banded, with a shadow on one side, in a picture ``times`` as large."""
    image = Image.new("RGB", (700 * times, 900 * times), (196, 168, 130))
    draw = ImageDraw.Draw(image)
    way, aside = np.array([np.sin(turn_deg), -np.cos(turn_deg)]), np.array([np.cos(turn_deg), np.sin(turn_deg)])
    for k in range(-12, 20):
        x, y = np.array([90.0 * k, 0.0]) * times
        draw.line([x, y, x + 500.0 * times, y + 900.0 * times], fill=(120, 96, 66), width=3 * times)
    draw.polygon([tuple(times * (axle + p)) for p in ([0, 0], [260, -40], [330, 60], [60, 90])], fill=(110, 92, 74))
    for up in np.arange(0.0, 520.5, 0.5 / times):
        half = float(np.interp(up, *form))
        tone = (226, 214, 176) if 150.0 < up < 172.0 else (64, 120, 138)
        angle = np.linspace(0.0, 2.0 * np.pi, 90)
        ring = axle + up * way + half * np.cos(angle)[:, None] * aside + rim * half * np.sin(angle)[:, None] * way
        draw.polygon([tuple(p) for p in times * ring], fill=tone)
    return np.asarray(image), way, aside


@pytest.mark.parametrize(
    ("turn", "rim", "times", "sense"), [(0.0, 0.45, 1, 1.0), (0.06, 0.3, 2, -1.0), (-0.08, 0.6, 1, -1.0)]
)
def test_the_outline_of_a_turned_body_is_found_from_rim_to_rim_whatever_lies_beside_it(turn, rim, times, sense):
    """On boards, beside a shadow, across a band; from a foot that a hand laid some pixels off."""
    form = ([0.0, 40.0, 230.0, 310.0, 480.0, 480.5, 520.0], [88.0, 108.0, 112.0, 44.0, 44.0, 66.0, 66.0])
    axle = np.array([330.0, 700.0])
    pixels, way, aside = turned_picture(axle, turn, rim, form, times)
    foot = times * (axle + np.array([3.0, -5.0]) + 0.5) - 0.5
    found = outline_about(pixels, foot, way, sense * times * 84.0, lambda place: rim)
    ups = found.ups / times + float((foot / times - axle) @ way)
    assert abs(ups[0]) < 5.0 and abs(ups[-1] - 520.0) < 5.0
    shift = float((foot / times - axle) @ aside)
    inner = (np.abs(ups - 480.0) > 30.0) & (ups > 12.0) & (ups < 512.0)
    level = np.arange(0.0, 520.5, 0.5)
    half = np.interp(level, *form)
    inside = np.clip(1.0 - ((ups[:, None] - level) / (rim * half)) ** 2, 0.0, None)
    truth = (half * np.sqrt(inside)).max(axis=1)  # what is seen of a body is what its rings reach
    for side, sign in ((found.own, sense), (found.other, -sense)):
        off = side / times + sign * shift - truth
        most = 90 if side is found.own else 70  # the other side is only asked where the axle lies
        assert np.percentile(np.abs(off[inner]), most) < 2.0, np.abs(off[inner]).max()
    rows, straight = few_of(found.ups, found.own)
    assert len(rows) == len(straight) <= 12 and rows[0] == 0 and rows[-1] == len(found.ups) - 1
    assert np.abs(np.interp(found.ups, found.ups[rows], found.own[rows]) - found.own).max() < 14.0 * times


def test_where_nothing_stands_no_outline_is_told():
    plain = np.full((400, 300, 3), 150, dtype=np.uint8)
    assert outline_about(plain, np.array([150.0, 300.0]), np.array([0.0, -1.0]), 40.0, lambda place: 0.4) is None
    assert outline_about(plain, np.array([900.0, 300.0]), np.array([0.0, -1.0]), 40.0, lambda place: 0.4) is None


# --- telling directions and things apart ----------------------------------------------------------------------------


def test_marks_find_the_eye_and_tell_directions_and_things_apart():
    photo, document = truth("P08"), photographed("P08")
    document = with_eye(document, msgspec.structs.replace(document.pictures[0], lines=(), camera=None))
    chosen = [0, 1, 2, 3, 4, 5, 6, 7, 9, 10, 13]
    for row in chosen:
        points = np.array(photo["marks"]["edges"][row]["px1"])
        document = add_line(document, document.pictures[0], points).document
    picture = document.pictures[0]
    assert picture.camera.focal_px == pytest.approx(photo["camera"]["f_px"], rel=0.03)
    truly = [photo["edges"][photo["marks"]["edges"][row]["of"]] for row in chosen]
    things = {}
    for line, edge in zip(picture.lines, truly, strict=True):
        if edge["direction"] != "high":
            things.setdefault(edge["object"], set()).add(line.object)
            own = [
                other.along
                for other, e in zip(picture.lines, truly, strict=True)
                if (e["object"], e["direction"]) == (edge["object"], edge["direction"])
            ]
            assert set(own) == {line.along}, "edges of one direction of one thing are marked alike"
        else:
            assert line.along == "high"
    assert sorted(things.values(), key=str) == [{""}, {"2"}], "the other thing's edges are told apart"
    assert in_place(document, picture) and document.eye.viewing_distance == pytest.approx(
        picture.camera.focal_px * picture.pixel
    )


def test_edges_seen_from_below_are_told_apart_by_what_goes_together():
    """Above the eye level right-going edges fall to the right: all ways of telling are tried."""
    eye = Eye(position=(0.0, 0.0, 0.0), yaw_deg=-32.0, viewing_distance=1000.0)
    lines, truly = [], []
    for way, label in ((np.array([1.0, 0.0, 0.0]), True), (np.array([0.0, 1.0, 0.0]), False)):
        for z in (-300.0, 900.0, 1600.0):
            start = np.array([1500.0, 3200.0, z])
            paper = eye.project([start, start + 900.0 * way])[0]
            lines.append(np.column_stack([600.0 + paper[:, 0], 450.0 - paper[:, 1]]))
            truly.append(label)
    assert level_labels(lines, (1200.0, 900.0), {}) == truly
    wrong = {0: False, 3: True}
    assert level_labels(lines, (1200.0, 900.0), wrong)[0] is False, "what a person has said stays"


def test_too_few_marks_ask_and_a_cut_out_is_told():
    document = photographed("P06")
    bare = with_eye(
        document, msgspec.structs.replace(document.pictures[0], lines=document.pictures[0].lines[:1], camera=None)
    )
    assert "too few marks" in answer_of(bare.pictures[0]) and bare.eye == document.eye
    cut = set_whole(document, document.pictures[0], whole=False).document
    assert not cut.pictures[0].whole and np.isfinite(answer_of(cut.pictures[0]).centre[0].value)


@FEW
@given(st.integers(0, 2**31), st.integers(0, 6), st.floats(-6, 6), st.floats(-6, 6))
def test_what_follows_a_dragged_mark_is_what_is_found_anew(seed, row, dx, dy):
    document = photographed("P06", "px1")
    picture = document.pictures[0]
    at = picture.lines[row].points[0]
    moved = move_point(document, picture, ("line", row, 0), (at[0] + dx, at[1] + dy)).document.pictures[0]
    quick = followed_by(marks_of(moved), answer_of(picture))
    if not quick.contradicting and answer_of(moved).fit.layout.level == quick.fit.layout.level:
        assert quick.focal.value == pytest.approx(answer_of(moved).focal.value, rel=2e-3)


def test_marks_are_moved_said_otherwise_and_removed_and_the_scale_stays():
    document = photographed("P06")
    picture = document.pictures[0]
    document = set_true(document, picture, TrueLength(of="eye", mm=3900.0)).document
    picture = document.pictures[0]
    assert picture.camera.position[2] == pytest.approx(3900.0)
    document = add_point(document, picture, 0, tuple(np.mean(picture.lines[0].points, axis=0))).document
    assert len(document.pictures[0].lines[0].points) == 3
    other = set_kind(document, document.pictures[0], "line", 0, "high").document
    assert other.pictures[0].lines[0].by_hand
    for _ in range(3):
        document = remove_mark(document, document.pictures[0], "line", 0).document
    assert len(document.pictures[0].lines) == len(picture.lines) - 3
    assert document.pictures[0].camera.position[2] == pytest.approx(3900.0)
    marked = set_corner(document, document.pictures[0], (400.0, 700.0)).document
    (at,) = to_paper(marked.pictures[0], marked.sheet, [(400.0, 700.0)])
    assert marked.eye.project([0.0, 0.0, 0.0])[0][0] == pytest.approx(at, abs=1e-6), (
        "the corner is the world's origin"
    )
    ringed = add_ring(document, document.pictures[0], np.array([[10.0, 10.0], [60.0, 12.0], [40.0, 30.0]])).document
    assert ringed.pictures[0].rings == (RingOnPicture(points=((10.0, 10.0), (60.0, 12.0), (40.0, 30.0))),)
    assert picture_under(change_picture(document, picture.id, "x", hidden=True).document) is None


# --- scale --------------------------------------------------------------------------------------------------------


def ruled(eye_height=1500.0):
    """A picture without a file of a box on the ground, its edges marked exactly; its document and the box."""
    eye = Eye(position=(-1200.0, -2600.0, eye_height), yaw_deg=-28.0, viewing_distance=300.0)
    box = Box(id="b", name="B", corner=(0.0, 0.0, 0.0), size=(1600.0, 900.0, 620.0))
    picture = plain_picture(pixel=0.25)

    def at(*place):
        u, v = eye.project([place])[0][0]
        return (float(u / 0.25 + picture.centre[0]), float(picture.centre[1] - v / 0.25))

    long, wide, high = box.size
    edges = [
        ("long", (0, 0, 0), (long, 0, 0)), ("long", (0, 0, high), (long, 0, high)), ("wide", (0, 0, 0), (0, wide, 0)),
        ("wide", (0, 0, high), (0, wide, high)), ("high", (0, 0, 0), (0, 0, high)), ("high", (0, wide, 0), (0, wide, high)),
    ]  # fmt: skip
    lines = tuple(LineMark(along=along, points=(at(*a), at(*b))) for along, a, b in edges)
    ring = tuple(at(800 + 200 * np.cos(t), -600 + 200 * np.sin(t), 0) for t in np.arange(6))
    document = msgspec.structs.replace(new_document(), pictures=(picture,))
    document = with_eye(document, msgspec.structs.replace(picture, lines=lines, corner=at(0, 0, 0)))
    return document, box, ring


def test_one_true_length_gives_the_scale_whichever_it_is():
    document, _, ring = ruled()
    picture = document.pictures[0]
    for number, mm in ((0, 1600.0), (1, 1600.0), (2, 900.0), (4, 620.0)):
        scaled = set_true(document, picture, TrueLength(of="line", number=number, mm=mm)).document
        assert scaled.eye.position == pytest.approx((-1200.0, -2600.0, 1500.0), rel=1e-4), number
    ends = line_in_world(picture, picture.camera, 1) * picture.camera.position[2]
    assert ends[1, 2] - ends[0, 2] == pytest.approx(0.0, abs=1e-9) and ends[0, 2] > 0.0, "at the top of the upright"
    ringed = with_eye(document, msgspec.structs.replace(picture, rings=(RingOnPicture(points=ring),)))
    scaled = set_true(ringed, ringed.pictures[0], TrueLength(of="ring", number=0, mm=400.0)).document
    assert scaled.eye.position[2] == pytest.approx(1500.0, rel=1e-3)
    assert ring_on_ground(scaled.pictures[0].camera, np.array(ring))[1] * scaled.eye.position[2] == pytest.approx(
        200.0, rel=1e-3
    )
    assert true_length(picture, picture.camera, "line", 99) is None


@FEW
@given(st.floats(200.0, 6000.0))
def test_what_stands_already_grows_along_and_is_drawn_where_it_was(mm):
    document, box, _ = ruled()
    half = msgspec.structs.replace(box, size=(800.0, 450.0, 310.0), name="Half")
    document = msgspec.structs.replace(document, volumes=(half,))
    scaled = set_size(document, document.pictures[0], "b", 0, mm).document
    assert scaled.volumes[0].size[0] == pytest.approx(mm, rel=1e-6)
    assert scaled.volumes[0].size[1] / scaled.volumes[0].size[0] == pytest.approx(450.0 / 800.0)
    assert in_place(scaled, scaled.pictures[0])
    one, other = (solve(d).edges.points for d in (document, scaled))
    assert other == pytest.approx(one, abs=2e-3)


def test_sizes_are_as_sure_as_they_are_told_to_be():
    """Marks and pulls with a pixel of noise, many times: the truth lies inside the told plus-minus in 90 % at least."""
    exact, box, _ = ruled()
    truly = np.array(box.size)
    rng, inside, count = np.random.default_rng(6), 0, 0
    for _ in range(40):
        picture = exact.pictures[0]
        lines = tuple(
            msgspec.structs.replace(line, points=tuple((float(x), float(y)) for x, y in np.array(line.points) + rng.normal(0, 0.7, (2, 2))))
            for line in picture.lines
        )  # fmt: skip
        document = with_eye(exact, msgspec.structs.replace(picture, lines=lines))
        marked = document.pictures[0]
        answer = answer_of(marked)
        # Pulled to the four corners as the picture has them, with the pencil's own tremble.
        corner = np.array(picture.lines[0].points[0])
        ends = [np.array(picture.lines[k].points[1]) for k in (0, 2, 4)]
        pulled = [pixel + rng.normal(0, 0.7, 2) for pixel in (corner, *ends)]
        size = pulled_size(marked, pulled)
        sure = sure_sizes(
            marked, answer, msgspec.structs.replace(box, corner=pulled_corner(marked, pulled[0]), size=size)
        )
        scale = marked.camera.position[2] / 1500.0
        for figure, value in zip(sure, truly * scale, strict=True):
            inside += abs(figure.value - value) <= figure.pm95
            count += 1
    assert inside >= 0.9 * count
    x, y, z = box.corner
    aside = msgspec.structs.replace(box, corner=(x + 9000.0, y + 2000.0, z))
    assert sure_sizes(exact.pictures[0], answer_of(exact.pictures[0]), aside) is None, "it stands beside the picture"


def pulled_corner(picture, pixel):
    from isometron.match.scale import on_ground

    x, y, _ = on_ground(picture.camera, np.array([pixel]), picture.camera.position[2])[0]
    return (float(x) + picture.camera.position[0], float(y) + picture.camera.position[1], 0.0)


def pulled_size(picture, pixels):
    from isometron.match.told_sizes import _sizes

    return tuple(float(s) for s in _sizes(picture.camera, np.array(pixels), 0.0, np.eye(3)))


# --- outline ------------------------------------------------------------------------------------------------------


def silhouette(eye, foot, profile, slope, heights, side):
    """The places (N, 3) where sight lines touch a turned body, by the definition: view and normal are square."""
    off = eye.place - foot
    far = np.hypot(*off[:2])
    towards = off[:2] / far
    aside = np.array([-towards[1], towards[0]]) * side
    radius, rise = profile(heights), slope(heights)
    cosine = (radius - (heights - off[2]) * rise) / far
    sine = np.sqrt(1.0 - cosine**2)
    level = foot[:2] + radius[:, None] * (cosine[:, None] * towards + sine[:, None] * aside)
    return np.column_stack([level, foot[2] + heights])


@FEW
@given(st.floats(-25, 5), st.floats(400, 2500), st.sampled_from([1.0, -1.0]), st.floats(0.3, 2.2))
def test_half_an_outline_gives_the_profile_back(pitch, height, side, wave):
    eye = Eye(position=(300.0, -2400.0, height), yaw_deg=4.0, pitch_deg=pitch, viewing_distance=420.0)
    foot = np.array([180.0, 90.0, 0.0])

    def profile(z):
        return 120.0 + 50.0 * np.sin(wave * z / 150.0)

    def slope(z):
        return 50.0 * wave / 150.0 * np.cos(wave * z / 150.0)

    heights = np.linspace(0.0, 600.0, 40)
    cosine = (profile(heights) - (heights - height) * slope(heights)) / np.hypot(120.0, 2490.0)
    if np.abs(cosine).max() > 0.8:
        return  # it does not show: another part of the body stands before it
    paper, _ = eye.project(silhouette(eye, foot, profile, slope, heights, side))
    found, radii = profile_of_outline(eye, foot, paper)
    assert found == pytest.approx(heights, abs=4.0) and radii == pytest.approx(profile(heights), abs=2.5)


@FEW
@given(st.floats(20.0, 900.0), st.floats(-1500, 1500), st.floats(1200, 5000))
def test_a_foot_seen_from_end_to_end_tells_where_its_axle_stands(radius, x, y):
    eye = Eye(position=(0.0, 0.0, 1500.0), viewing_distance=300.0)
    foot, far = np.array([x, y]), np.hypot(x, y)
    turn = np.arcsin(radius / far)
    along = np.sqrt(far**2 - radius**2)
    ends = []
    for side in (turn, -turn):
        c, s = np.cos(side), np.sin(side)
        ends.append(np.append(along / far * np.array([c * x - s * y, s * x + c * y]), 0.0))
    assert axle_between(eye, *ends) == pytest.approx(foot, abs=1e-6)


# --- carried along ------------------------------------------------------------------------------------------------


def test_each_face_carries_its_own_part_of_the_picture_into_another_view():
    """Places on faces, as both eyes see them: the carried pixel at the one is the photograph's pixel at the other."""
    document = photographed("P06")
    cargo = truth("P06")["objects"][0]["boxes"][0]
    box = Box(id="b", name="B", corner=(0.0, 0.0, 0.0), size=(1500.0, 900.0, 800.0))
    front = Box(id="f", name="F", corner=(-500.0, -700.0, 0.0), size=(400.0, 400.0, 500.0))
    document = msgspec.structs.replace(document, volumes=(box, front))
    document = change_picture(document, "picture-1", "x", carried=True).document
    assert len(solve(document).of("carried").pictures) == 0, "under its own eye it lies whole"
    x, y, z = document.eye.position
    lower = msgspec.structs.replace(
        document.eye, position=(x + 300.0, y, 0.6 * z), yaw_deg=document.eye.yaw_deg + 4.0
    )
    other = msgspec.structs.replace(document, eye=lower)
    rasters = list(solve(other).of("carried").pictures)
    assert len(rasters) >= 3
    own = solve(document).of("photographs").pictures.items[0]
    rng = np.random.default_rng(3)
    checked = 0
    for raster in rasters:
        face = face_of(raster, other)
        for weights in rng.dirichlet(np.ones(len(raster.within[0])), 5):
            paper = weights @ raster.within[0]
            place = on_face(face, other.eye, paper)
            back = np.linalg.solve(raster.place, [*paper, 1.0])
            assert back[2] > 0.0, "painters take what is negative for what lies behind the eye"
            pixel = back[:2] / back[2]
            seen_at = document.eye.project([place])[0][0]
            truly = np.linalg.solve(own.place, [*seen_at, 1.0])
            # The carried one is cropped: whole pixels of the same picture.
            shift = truly[:2] / truly[2] - pixel
            assert shift == pytest.approx(np.round(shift), abs=1e-6)
            x0, y0 = np.round(shift).astype(int)
            assert (raster.pixels[0, 0] == own.pixels[y0, x0]).all()
            checked += 1
    assert checked >= 15 and cargo["size"]


def face_of(raster, document):
    """The face of the document that a carried raster lies on: the one whose picture holds it."""
    import shapely

    from isometron.geometry.visible import picture_of_face
    from isometron.solve.seen_faces import faces_standing, view_of

    view = view_of(document.eye)
    middle = shapely.Polygon(raster.within[0]).representative_point()
    faces = [f for f in faces_standing(solve(document).scene).faces if view.faces_eye(f)]
    holding = [f for f in faces if picture_of_face(view, f).contains(middle)]
    place = [on_face(f, document.eye, np.array(middle.coords[0])) for f in holding]
    return holding[int(np.argmin([np.linalg.norm(p - document.eye.place) for p in place]))]


def on_face(face: PlaneFace, eye, paper):
    ray = eye.ray(*map(float, paper))
    return eye.place + (face.offset - eye.place @ face.outward) / (ray @ face.outward) * ray


# --- command line -------------------------------------------------------------------------------------------------


def test_the_command_line_sees_by_kept_eyes_and_tells_of_pictures(tmp_path):
    document = photographed("P06")
    box = Box(id="van", name="Van", corner=(0.0, 0.0, 0.0), size=(1500.0, 900.0, 800.0))
    document = msgspec.structs.replace(document, volumes=(box,))
    low = msgspec.structs.replace(document.eye, position=(*document.eye.position[:2], 500.0))
    document = keep_eye(msgspec.structs.replace(document, eye=low), "from the kerb").document
    save_document(document, tmp_path / "van.isometron")

    def run(*arguments):
        return subprocess.run(
            [sys.executable, "-m", "isometron", *map(str, arguments)], capture_output=True, text=True, cwd=tmp_path, check=False
        )  # fmt: skip

    told = json.loads(run("report", "van.isometron", "--format", "json", "--eye", "photograph").stdout)
    assert told["view"]["eye"][2] == pytest.approx(document.pictures[0].camera.position[2])
    sizes = told["pictures"][0]["sizes"][0]
    assert sizes["volume"] == "van" and sizes["long"]["value"] == 1500.0 and sizes["long"]["pm95"] > 0.0
    assert told["pictures"][0]["focal_px"]["value"] == pytest.approx(truth("P06")["camera"]["f_px"], rel=0.01)
    assert "picture P06.jpg" in run("report", "van.isometron").stdout
    kerb = json.loads(run("report", "van.isometron", "--format", "json", "--eye", "from the kerb").stdout)
    assert kerb["view"]["eye"][2] == 500.0
    wrong = run("export", "van.isometron", "x.svg", "--eye", "nobody")
    assert wrong.returncode == 2 and "There are: photograph, from the kerb" in wrong.stderr
    with_it, without = (
        run("export", "van.isometron", "-", "--format", "svg", "--eye", "photograph", *more).stdout
        for more in ((), ("--no-picture",))
    )
    assert "<image" in with_it and "<image" not in without
    import pypdfium2

    for which, pages in (("page", 1), ("each", 2)):
        assert run("export", "van.isometron", f"{which}.pdf", "--eyes", which).returncode == 0
        made = pypdfium2.PdfDocument(tmp_path / f"{which}.pdf")
        assert len(made) == pages
        text = "".join(page.get_textpage().get_text_range() for page in made)
        assert which == "each" or ("photograph" in text and "from the kerb" in text)
        made.close()
    assert run("export", "van.isometron", "all.svg", "--eyes", "page").returncode == 2


def test_a_direction_vanishes_where_its_marks_meet():
    document, _, _ = ruled()
    picture = document.pictures[0]
    for axis, rows in ((0, (0, 1)), (1, (2, 3))):
        lines = [np.cross([*picture.lines[n].points[0], 1.0], [*picture.lines[n].points[1], 1.0]) for n in rows]
        meet = np.cross(*lines)
        (at,) = to_paper(picture, document.sheet, [meet[:2] / meet[2]])
        assert vanishing(document.eye, np.eye(3)[axis]).at == pytest.approx(tuple(at), rel=1e-4)
    assert direction_of(picture, np.array([picture.lines[4].points[0], picture.lines[4].points[1]]))[1] == "high"
    assert seen("P06", [0.0, 0.0, 0.0]).shape == (2,)


def pencilled(draw, size=(600, 500), grain=4):
    """A sheet with pencil strokes, drawn finer and made smaller; ``draw`` is given the pencil and how many fine pixels one has."""
    sheet = Image.new("L", (size[0] * grain, size[1] * grain), 235)
    draw(ImageDraw.Draw(sheet), grain)
    return np.asarray(sheet.resize(size, Image.Resampling.BOX))


def fine(points, grain):
    """Places of pixels as those of fine ones: corners of pixels keep together, not their centres."""
    return [tuple((float(v) + 0.5) * grain for v in point) for point in points]


@pytest.mark.parametrize("wide", [2.0, 4.0, 6.0])
@pytest.mark.parametrize("beside", [-3.0, 0.5, 3.0])
def test_a_pencil_stroke_is_caught_by_its_middle(wide, beside):
    start, end = np.array([70.0, 90.0]), np.array([530.0, 310.0])
    grey = pencilled(lambda pencil, grain: pencil.line(fine([start, end], grain), fill=90, width=round(wide * grain)))
    way = (end - start) / np.hypot(*(end - start))
    across = np.array([-way[1], way[0]])
    pulled = [start + 20 * way + beside * across, end - 20 * way + 0.5 * beside * across]
    caught = caught_line(grey, *(tuple(map(float, point)) for point in pulled))
    assert np.abs((caught.points - start) @ across).max() < 0.35


def test_points_of_a_ring_are_caught_together_beside_what_crosses_it():
    middle, long, short = np.array([300.0, 240.0]), 180.0, 90.0

    def draw(pencil, grain):
        (x0, y0), (x1, y1) = fine([middle - [long, short] - 1.5, middle + [long, short] + 1.5], grain)
        pencil.ellipse((x0, y0, x1, y1), outline=90, width=3 * grain)
        for x in (130.0, 220.0, 300.0, 390.0):  # strokes that run close along it and across it
            pencil.line(fine([(x, 120.0), (x + 90.0, 175.0)], grain), fill=60, width=3 * grain)

    grey = pencilled(draw)
    t = np.linspace(0.0, 2.0 * np.pi, 9, endpoint=False) + 0.2
    true = middle + np.column_stack([long * np.cos(t), short * np.sin(t)])
    rough = true + np.random.default_rng(3).normal(0.0, 2.0, true.shape)
    caught = caught_ring(grey, caught_ring(grey, rough), 3.0)
    dense = np.linspace(0.0, 2.0 * np.pi, 5000)
    on = middle + np.column_stack([long * np.cos(dense), short * np.sin(dense)])
    assert max(float(np.hypot(*(on - point).T).min()) for point in caught) < 0.6
