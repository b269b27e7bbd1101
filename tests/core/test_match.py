"""From a photograph: the eye from marks, against exact truth, the plain way, and what cannot be known."""

import json
import subprocess
import sys
from functools import cache
from itertools import pairwise
from pathlib import Path

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from isometron.document.pictures.placing import in_place, to_pixels
from isometron.document.store.files import load_document
from isometron.match.answer import matched
from isometron.match.drawn import answer_values, answer_words, document_of
from isometron.match.marks import KnownLength, LineMark, MarksError, PictureMarks, RingOnPicture, read_marks
from isometron.match.solving.camera import Layout
from isometron.match.solving.misfits import Misfits
from isometron.match.solving.solver import slopes
from isometron.pictures.reading import PictureError, picture_facts
from isometron.solve.drawing import solve
from tests.core.photo_scenes import KINDS, Scene, judged

FOLDER = Path(__file__).parents[1] / "cases" / "photos"
PHOTOS = {path.stem: json.loads(path.read_text()) for path in sorted(FOLDER.glob("*.json"))}


def marks_of(photo, noise, **fields):
    """The marks of a photograph as a person would give them."""
    lines = [
        LineMark(object=e["object"], along=e["direction"], points=tuple(map(tuple, mark[noise])),
                 box=f"{e['object']}/{e['box']}", edge=e["edge"][-2:])
        for mark in photo["marks"]["edges"] for e in [photo["edges"][mark["of"]]]
    ]  # fmt: skip
    lines += [
        LineMark(object=line["object"], along=line["direction"], points=tuple(map(tuple, mark[noise])))
        for mark in photo["marks"]["lines"] for line in [photo["lines"][mark["of"]]]
    ]  # fmt: skip
    rings = [
        RingOnPicture(points=tuple(map(tuple, mark[noise])), object=ring["object"],
                      square_to="high" if abs(ring["axis"][2]) > 0.999 else "wide")
        for mark in photo["marks"]["rings"] for ring in [photo["rings"][mark["of"]]]
    ]  # fmt: skip
    made = {"width": photo["width"], "height": photo["height"], "whole": not photo["camera"]["cropped"]}
    return PictureMarks(**made | {"lines": tuple(lines), "rings": tuple(rings)} | fields)


def true_ratios(photo):
    """True sizes of each box by direction."""
    return {
        f"{o['name']}/{b['name']}": dict(zip(("long", "wide", "high"), b["size"], strict=True))
        for o in photo["objects"] for b in o["boxes"]
    }  # fmt: skip


def figures(photo, answer):
    """Each figure that an answer gives, with the truth: focal length, horizon at both borders, ratios."""
    yield answer.focal, photo["camera"]["f_px"]
    ideal = np.array(photo["horizon"]["ideal"])
    for figure, x in zip(answer.horizon, (0.0, photo["width"] - 1.0), strict=True):
        yield figure, float(np.interp(x, ideal[:, 0], ideal[:, 1])) if len(ideal) > 2 else _on_line(ideal, x)
    sizes = true_ratios(photo)
    for name, ratios in answer.ratios.items():
        for key, figure in ratios.items():
            one, other = key.split("/")
            yield figure, sizes[name][one] / sizes[name][other]


def _on_line(ends, x):
    (x0, y0), (x1, y1) = ends
    return y0 + (y1 - y0) * (x - x0) / (x1 - x0)


# --- the plain way, to be beaten: one vanishing point a direction by least squares, the centre in the middle ----------


def plain_focal(photo, noise):
    """The focal length from the main object's vanishing points, None where they give none."""
    middle = np.array([(photo["width"] - 1) / 2, (photo["height"] - 1) / 2])
    main = next(o["name"] for o in photo["objects"] if o.get("main"))
    by_way = {}
    for mark in photo["marks"]["edges"]:
        edge = photo["edges"][mark["of"]]
        if edge["object"] == main:
            by_way.setdefault(edge["direction"], []).append(np.array(mark[noise]) - middle)
    points = {}
    for way, lines in by_way.items():
        rows = []
        for one, other in lines:
            line = np.cross([*one / 1000, 1.0], [*other / 1000, 1.0])
            rows.append(line / np.hypot(*line[:2]))
        _, _, solved = np.linalg.svd(np.array(rows))
        points[way] = solved[-1][:2] / solved[-1][2] * 1000
    pairs = (
        [("long", "wide")]
        if photo["camera"]["kind"].startswith("two")
        else list(pairwise(("long", "wide", "high", "long")))
    )
    squares = [-float(points[a] @ points[b]) for a, b in pairs if a in points and b in points]
    return float(np.sqrt(np.median(squares))) if squares and np.median(squares) > 0 else None


@cache
def answered(name, noise):
    """The answer to a photograph's marks, worked out once."""
    return matched(marks_of(PHOTOS[name], noise))


def test_exact_marks_give_the_exact_eye():
    for name, photo in PHOTOS.items():
        answer, camera = answered(name, "exact"), photo["camera"]
        if camera["cropped"]:
            continue
        near = 0.005 if camera["k2"] else 1e-4  # the lens has a second bend, which is not asked for
        assert answer.focal.value == pytest.approx(camera["f_px"], rel=near), name
        assert answer.pitch.value == pytest.approx(camera["pitch"], abs=0.2 if camera["k2"] else 0.01)
        for figure, truth in figures(photo, answer):
            if np.isfinite(figure.pm95) and not camera["k2"]:
                assert figure.value == pytest.approx(truth, rel=2e-3, abs=0.6), name


def test_marks_of_one_pixel_beat_the_plain_way():
    ours, plain = {"two": [], "three": []}, {"two": [], "three": []}
    for name, photo in PHOTOS.items():
        camera = photo["camera"]
        if camera["cropped"]:
            continue
        kind = "two" if camera["kind"].startswith("two") else "three"
        found = plain_focal(photo, "px1")
        plain[kind].append(1.0 if found is None else abs(found / camera["f_px"] - 1))
        ours[kind].append(abs(answered(name, "px1").focal.value / camera["f_px"] - 1))
    for kind in ours:
        assert max(ours[kind]) <= max(plain[kind])
    assert np.median(ours["two"] + ours["three"]) <= 0.7 * np.median(plain["two"] + plain["three"])


def test_nothing_is_told_more_surely_than_it_is_known():
    inside = [
        abs(figure.value - truth) <= figure.pm95 + 1e-3
        for name, photo in PHOTOS.items() for figure, truth in figures(photo, answered(name, "px1"))
    ]  # fmt: skip
    assert len(inside) > 50 and np.mean(inside) >= 0.9


def test_a_level_cut_out_says_that_it_does_not_give_the_viewing_distance_and_a_known_ratio_settles_it():
    photo = PHOTOS["P05"]
    for noise in ("exact", "px1"):
        answer = answered("P05", noise)
        assert answer.focal.pm95 > 0.5 * answer.focal.value and not answer.focal.known
        assert any("viewing distance" in each.what and "ratio" in each.settle for each in answer.free)
    sizes = true_ratios(photo)["gridded cube/cube"]
    lengths = tuple(KnownLength(box="gridded cube/cube", along=way, mm=mm) for way, mm in sizes.items())
    settled = matched(marks_of(photo, "exact", lengths=lengths))
    assert settled.focal.value == pytest.approx(photo["camera"]["f_px"], rel=1e-3)
    assert settled.centre[0].value == pytest.approx(photo["camera"]["principal_point"][0], abs=2.0)
    assert not any("viewing distance" in each.what for each in settled.free)


def test_what_the_marks_do_not_say_is_said_with_the_mark_that_would_settle_it():
    free = {each.what: each.settle for each in answered("P01", "px1").free}
    assert free["how high tea cart/body is"] == "Mark one more edge of it on the far side of that direction."
    assert "the scale" in free
    table = answered("P03", "exact").ratios["crate table/box"]["high/long"]
    assert table.pm95 == np.inf, "its foot is nowhere marked"
    assert "not known (one of many" in answer_words(answered("P05", "exact"))


def test_a_mark_that_contradicts_the_others_is_named_and_not_averaged_away():
    marks = marks_of(PHOTOS["P08"], "px1")
    line = marks.lines[3]
    (x, y), end = line.points[0], line.points[-1]
    wrong = msgspec.structs.replace(line, points=((x + 25.0, y + 18.0), end))
    lines = (*marks.lines[:3], wrong, *marks.lines[4:])
    answer = matched(msgspec.structs.replace(marks, lines=lines))
    assert answer.contradicting[0] == 3
    assert answer.focal.value == pytest.approx(PHOTOS["P08"]["camera"]["f_px"], rel=0.06)
    assert answer_values(answer)["marks"][3]["contradicts"] is True


@settings(max_examples=20, deadline=None)
@given(st.integers(0, 2**31))
def test_slopes_are_those_of_small_steps(seed):
    dice = np.random.default_rng(seed)
    layout = Layout(marks_of(PHOTOS["P06"], "px1"), bent=True, centred=False)
    numbers = dice.uniform(-0.3, 0.3, layout.count)
    numbers[0] = np.log(1200.0)
    numbers[layout.count - 6 * len(layout.boxes) :] += np.tile([0.1, 2.0, -0.3, 0.5, 0.5, 0.5], len(layout.boxes))
    marks = Misfits(layout)
    told = slopes(marks.of, numbers)
    step = 1e-6 * np.eye(layout.count)
    small = (marks.of(numbers + step) - marks.of(numbers - step)).T / 2e-6
    assert told == pytest.approx(small, rel=1e-4, abs=1e-3 * np.abs(told).max())


def test_the_saved_document_is_drawn_as_the_picture_shows_it():
    photo = PHOTOS["P06"]
    sizes = true_ratios(photo)["delivery van/cargo box"]
    marks = marks_of(
        photo, "exact", lengths=(KnownLength(box="delivery van/cargo box", along="long", mm=sizes["long"]),)
    )
    document = document_of(matched(marks), "Van")
    (box,) = document.volumes
    assert box.size == pytest.approx(tuple(sizes.values()), rel=1e-3)
    paper = 420.0 / photo["width"]
    drawn = np.array(document.sheet.centre_of_vision) + solve(document).picture.paper
    for edge in photo["edges"]:
        if edge["box"] == "cargo box" and edge["object"] == "delivery van":
            for u, v in edge["image"]:
                place = np.array([(u + 0.5) * paper, document.sheet.height - (v + 0.5) * paper])
                assert np.hypot(*(drawn - place).T).min() < 0.05, "mm of paper"
    assert abs(box.yaw_deg) <= 180.0 and document.eye.position[2] > 0.0


def test_bad_marks_are_told_with_their_place():
    for text, words in (
        ("[]", "holds no marks"),
        ('{"width": 10, "height": 10, "lines": [{"along": "up", "points": [[0,0],[1,1]]}]}', "lines"),
        (
            '{"width": 10, "height": 10, "lines": [{"along": "high", "box": "b", "points": [[0,0],[1,1]]}]}',
            "line 1: a box and the edge",
        ),
        ('{"width": 10, "height": 10, "lengths": [{"box": "b", "along": "long", "mm": 3}]}', "no line is an edge"),
    ):
        with pytest.raises(MarksError, match=words):
            read_marks(text.encode(), "marks.json")
    with pytest.raises(MarksError, match="too few marks"):
        matched(PictureMarks(width=100, height=100, lines=(LineMark(along="long", points=((0, 0), (50, 10))),)))


def test_the_command_line_matches_a_picture_and_refuses_another_one(tmp_path):
    photo = PHOTOS["P08"]
    picture, marks = tmp_path / "vessel.png", tmp_path / "marks.json"
    Image.new("L", (photo["width"], photo["height"]), 200).save(picture)
    box = next(iter(true_ratios(photo)))
    known = next((e["object"] + "/" + e["box"] for e in photo["edges"]), box)
    marks.write_bytes(
        msgspec.json.encode(marks_of(photo, "px1", lengths=(KnownLength(box=known, along="high", mm=300.0),)))
    )

    def run(*words):
        return subprocess.run(
            [sys.executable, "-m", "isometron", "match", *map(str, words)],
            capture_output=True,
            text=True,
            check=False,
        )

    done = run(picture, "--marks", marks, "--format", "json", "--save", tmp_path / "out.isometron")
    assert done.returncode == 0, done.stderr
    told = json.loads(done.stdout)
    assert (
        told["focal_px"]["value"] == pytest.approx(photo["camera"]["f_px"], rel=0.05) and told["focal_px"]["pm95"] > 0
    )
    assert len(told["marks"]) == len(photo["marks"]["edges"]) + len(photo["marks"]["rings"])
    found = load_document(tmp_path / "out.isometron")
    assert found.volumes[0].size[2] == pytest.approx(300.0)
    (laid,) = found.pictures
    assert in_place(found, laid) and len(laid.lines) == len(photo["marks"]["edges"])
    # The box is drawn on the picture where its marked edges are.
    drawn = to_pixels(laid, found.sheet, found.eye.project([found.volumes[0].corner])[0])[0]
    marked = np.array([at for line in laid.lines if line.box == known for at in line.points])
    assert np.hypot(*(marked - drawn).T).min() < 4.0
    assert "horizon at" in run(picture, "--marks", marks).stdout
    Image.new("L", (64, 64)).save(picture)
    other = run(picture, "--marks", marks)
    assert other.returncode == 2 and "64 x 64 pixels" in other.stderr
    (tmp_path / "no.png").write_text("nothing")
    assert "no picture that can be read" in run(tmp_path / "no.png", "--marks", marks).stderr


def test_pictures_are_measured_as_they_are_looked_at_and_in_bounds(tmp_path):
    path = tmp_path / "turned.jpg"
    exif = Image.Exif()
    exif[0x0112] = 6
    exif.get_ifd(0x8769)[0xA405] = 72
    Image.new("RGB", (80, 60)).save(path, exif=exif)
    facts = picture_facts(path)
    assert (facts.width, facts.height) == (60, 80) and facts.focal_px == pytest.approx(72 / 36 * 80)
    huge = tmp_path / "huge.png"
    Image.new("1", (30000, 11000)).save(huge)
    with pytest.raises(PictureError, match="million pixels"):
        picture_facts(huge)
    with pytest.raises(PictureError, match="not there"):
        picture_facts(tmp_path / "none.png")


# --- reference cases --------------------------------------------------------------------------------------------------

CASES = FOLDER.parent
WAYS = {"a": "long", "b": "wide", "c": "high"}


def cases_of(family):
    return json.loads((CASES / f"{family}.json").read_text())["cases"]


@pytest.mark.parametrize("case", cases_of("photo"), ids=lambda case: case["id"])
def test_directions_of_a_photograph_give_its_camera(case):
    given_, wanted, near = case["given"], case["expect"], case["tolerance"]
    width, height = given_["image_size"]
    half = np.array([0.5, 0.5])  # the cases count from the picture's corner
    lines = tuple(
        LineMark(along=WAYS[way], points=tuple(map(tuple, (np.array(edge) - half).tolist())))
        for way, edges in given_["edges"].items() for edge in edges
    )  # fmt: skip
    answer = matched(PictureMarks(width=width, height=height, whole="principal_point" in given_, lines=lines))
    assert answer.focal.value == pytest.approx(wanted["f_px"], abs=near["f_px"])
    assert abs(answer.focal.value - wanted["f_px"]) <= 2.0 * answer.focal.pm95
    if "principal_point" in near:
        for figure, truth, within in zip(
            answer.centre, wanted["principal_point"], near["principal_point"], strict=True
        ):
            assert figure.value + 0.5 == pytest.approx(truth, abs=within)
    if "pitch_deg" in near:
        assert abs(answer.pitch.value) == pytest.approx(abs(wanted["pitch_deg"]), abs=near["pitch_deg"])


@pytest.mark.parametrize("case", cases_of("rings_level"), ids=lambda case: case["id"])
def test_level_rings_of_one_axle_give_the_eye_level(case):
    given_, wanted = case["given"], case["expect"]
    turn = np.arange(12) * np.pi / 6
    rings = []
    for ring in given_["rings"]:
        angle = np.radians(ring["angle_deg"])
        x, y = ring["semi_major"] * np.cos(turn), ring["semi_minor"] * np.sin(turn)
        points = np.column_stack([x * np.cos(angle) - y * np.sin(angle), x * np.sin(angle) + y * np.cos(angle)])
        rings.append(RingOnPicture(points=tuple(map(tuple, (points + ring["centre"] - 0.5).tolist())), axle="axle"))
    size = given_["picture"]
    answer = matched(PictureMarks(width=size["width"], height=size["height"], rings=tuple(rings),
                                  focal_px=given_["focal_length_px"] or 0.0))  # fmt: skip
    if wanted["horizon_y"] is None:
        assert answer.focal.pm95 == answer.horizon[0].pm95 == np.inf
        assert any(words in answer.free[0].what for words in ("as good as parallel", "which of several eyes"))
        return
    near = {"abs": 1e-3, "rel": 1e-6}
    assert answer.horizon[0].value + 0.5 == pytest.approx(wanted["horizon_y"], **near)
    assert answer.focal.value == pytest.approx(wanted["focal_length_px"], **near)
    assert answer.pitch.value == pytest.approx(wanted["pitch_deg"], abs=1e-4)
    assert [each.value for each in answer.heights["axle"]] == pytest.approx(wanted["heights"], abs=1e-4)


# --- what quarrels, what cannot be known, what hands leave ------------------------------------------------------------


def with_one_wrong(photo, noise, seed):
    """Return marks of a photograph, one end of one line 25 px off across it, and which line that is."""
    marks, dice = marks_of(photo, noise), np.random.default_rng(seed)
    number, end = int(dice.integers(len(marks.lines))), int(dice.choice([0, -1]))
    points = np.array(marks.lines[number].points, dtype=float)
    way = points[-1] - points[0]
    points[end] += 25.0 * np.array([-way[1], way[0]]) / np.hypot(*way)
    lines = list(marks.lines)
    lines[number] = msgspec.structs.replace(lines[number], points=tuple(map(tuple, points.tolist())))
    return msgspec.structs.replace(marks, lines=tuple(lines)), number


def test_one_wrong_mark_is_named_and_no_right_one():
    named, tries = 0, 0
    for stem, noise in (("P01", "px1"), ("P06", "exact")):
        assert matched(marks_of(PHOTOS[stem], noise)).contradicting == [], stem
        for seed in range(2):
            marks, number = with_one_wrong(PHOTOS[stem], noise, seed)
            tries, named = tries + 1, named + (matched(marks).contradicting[:1] == [number])
    assert named >= tries - 1, f"{named} of {tries}"


def test_rings_round_one_axle_do_not_wreck_a_match():
    answer = matched(read_marks((FOLDER / "marks" / "P03-px1.json").read_bytes(), "P03-px1.json"))
    true = PHOTOS["P03"]["camera"]["f_px"]
    assert abs(answer.focal.value - true) <= answer.focal.pm95 < 0.15 * true
    heights = answer.heights["ember lantern axle"]
    assert all(figure.pm95 > 0.1 * abs(figure.value) for figure in heights)  # thin rings tell their heights roughly


def test_what_cannot_be_known_of_a_cut_out_is_told_unknown():
    answer = matched(read_marks((FOLDER / "marks" / "P05-px3.json").read_bytes(), "P05-px3.json"))
    assert not answer.focal.known and answer.bend.value == 0.0
    assert any("viewing distance" in free.what for free in answer.free)


def test_scenes_of_every_kind_are_told_with_what_they_are_worth():
    """A few of the scenes that `python -m tests.core.photo_scenes` measures by hundreds."""
    told, wrong = [], []
    for seed in range(16, 16 + len(KINDS)):
        scene, result = judged(seed)
        assert result is not None, scene.kind
        off, known, inside, accused = result
        assert accused == 0, scene.kind
        told += inside
        wrong += [scene.kind] if known and off > 0.15 else []
    assert wrong == [] and len(told) > 30 and np.mean(told) >= 0.8


def test_a_bend_that_only_its_bound_stops_is_none():
    """Nine marks of a straight two-point picture: a free bend runs to its bound, and takes the focal length along by 18 %."""
    scene = Scene(256)
    answer = matched(scene.marks)
    assert answer.bend.value == 0.0
    assert abs(answer.focal.value - scene.focal) <= answer.focal.pm95 < 0.15 * scene.focal
