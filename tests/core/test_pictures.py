"""Pictures on the sheet: read in bounds, kept whole in the document, placed, moved with their eye, painted on every surface."""

import io
import json

import msgspec
import numpy as np
import pypdfium2
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from isometron.demos.catalogue import demo
from isometron.document.eyes.fresh_sheet import drawn_width, fresh_sheet
from isometron.document.eyes.keeping import eye_now, eyes_of, forget_eye, go_to_eye, keep_eye, next_eye, seen_by
from isometron.document.fresh import new_document
from isometron.document.history import History
from isometron.document.model import DocumentError
from isometron.document.pictures.picture_edits import (
    change_picture,
    crop_picture,
    lay_picture,
    move_picture,
    remove_picture,
)
from isometron.document.pictures.placing import bent, in_place, place_of, straight, to_paper, to_pixels
from isometron.document.pictures.sheet_picture import MOST_BYTES, Camera, PictureFile
from isometron.document.store.disk import FileError
from isometron.document.store.files import decode_document, encode_document
from isometron.document.store.picture_files import digest_of, keep_files, with_kept_files, without_files
from isometron.pictures.intake import taken_in
from isometron.pictures.rasters import grey_of, pixels_of
from isometron.pictures.reading import PictureError, picture_facts, upright
from isometron.solve.drawing import solve
from isometron.surfaces.export import export_bytes
from isometron.view.vanishing import vanishing
from isometron.volumes.box import Box
from tests.pictures import PHOTOS, noisy, packed, photographed, plain_picture

FEW = settings(max_examples=40, deadline=None, derandomize=True)


# --- reading ------------------------------------------------------------------------------------------------------


def test_every_usual_picture_is_read_upright_in_eight_bits():
    small = Image.new("RGB", (30, 20), (200, 10, 10))
    exif = Image.Exif()
    exif[0x0112] = 6
    assert upright(packed(small, "JPEG", exif=exif), "turned").size == (20, 30)
    for kind, image in (
        ("PNG", small.convert("RGBA")), ("TIFF", small.convert("CMYK")), ("WEBP", small), ("PNG", small.convert("P")),
        ("PNG", small.convert("1")), ("JPEG", small.convert("CMYK")),
    ):  # fmt: skip
        read = upright(packed(image, kind), kind)
        assert read.mode == "RGB" and read.size == (30, 20)
    deep = Image.fromarray((np.linspace(0, 65535, 600).reshape(20, 30)).astype(np.uint16))
    grey = np.asarray(upright(packed(deep, "TIFF"), "deep"))[..., 0]
    assert grey.min() == 0 and grey.max() == 255 and (np.diff(grey[0].astype(int)) >= 0).all()
    clear = Image.new("RGBA", (4, 4), (0, 0, 0, 0))
    assert np.asarray(upright(packed(clear), "clear")).min() == 255, "what is see-through lies on white"
    frames = [Image.new("RGB", (8, 8), (k * 80, 0, 0)) for k in range(3)]
    moving = packed(frames[0], "WEBP", save_all=True, append_images=frames[1:], lossless=True)
    assert np.asarray(upright(moving, "moving"))[0, 0, 0] == 0, "of an animated one the first image"


def test_what_is_no_picture_or_breaks_off_or_explodes_is_refused_with_words():
    whole = packed(noisy(300, 200), "JPEG")
    for data in (b"", b"words", whole[: len(whole) // 3], packed(noisy(80, 60))[:400], b"%PDF-1.4 no"):
        with pytest.raises(PictureError, match="photo"):
            taken_in(new_document(), data, "photo")
    with pytest.raises(PictureError, match="million pixels"):
        picture_facts(packed(Image.new("1", (30000, 11000))), "huge")
    with pytest.raises(PictureError, match="one pixel"):
        picture_facts(packed(Image.new("L", (1, 50))), "thin")


def test_a_page_of_a_pdf_is_a_picture():
    pages = pypdfium2.PdfDocument.new()
    pages.new_page(200, 100)
    pages.new_page(300, 300)
    out = io.BytesIO()
    pages.save(out)
    taken = taken_in(new_document(), out.getvalue(), "plan.pdf", 1)
    assert taken.picture.width == taken.picture.height and "JPEG" in taken.note
    with pytest.raises(PictureError, match="2 pages"):
        taken_in(new_document(), out.getvalue(), "plan.pdf", 2)


def test_a_small_file_is_kept_as_it_came_and_a_large_one_is_made_smaller_and_said():
    data = (PHOTOS / "P06.jpg").read_bytes()
    taken = taken_in(new_document(), data, "van")
    assert taken.data is data and taken.note == ""
    large = packed(noisy(1700, 1500), "PNG")
    assert len(large) > 4 * 2**20
    taken = taken_in(new_document(), large, "noise.png")
    assert len(taken.data) <= 4 * 2**20 and "JPEG" in taken.note and taken.picture.file == digest_of(taken.data)
    exif = Image.Exif()
    exif.get_ifd(0x8769)[0xA405] = 36
    long = packed(noisy(3000, 2200), "JPEG", quality=98, exif=exif)
    taken = taken_in(new_document(), long, "long.jpg")
    assert taken.picture.focal_px == pytest.approx(taken.picture.width), "36 mm is as long as the frame is wide"


# --- the file -----------------------------------------------------------------------------------------------------


def test_a_document_keeps_its_picture_and_needs_version_3_only_for_it():
    plain = new_document()
    assert json.loads(encode_document(plain))["version"] == 1 and b'"pictures"' not in encode_document(plain)
    kept = keep_eye(plain, "rear").document
    assert json.loads(encode_document(kept))["version"] == 3
    document = photographed("P06")
    data = encode_document(document)
    assert decode_document(data) == document
    last = data.splitlines()[-3]
    assert b'"digest"' in last and len(last) < 4 / 3 * (PHOTOS / "P06.jpg").stat().st_size + 200
    old = json.loads(encode_document(plain)) | {"version": 2}
    assert decode_document(json.dumps(old).encode()) == plain, "version 2 is brought up"
    assert json.loads(encode_document(demo("perch-stool")))["version"] == 2, "what needs 2 stays 2"


def test_damaged_doubled_and_too_many_pictures_are_refused_with_place_and_remedy():
    document = photographed("P06")
    file = document.files[0]
    damaged = msgspec.structs.replace(document, files=(PictureFile(digest=file.digest, data=file.data[:-1] + b"x"),))
    with pytest.raises(FileError, match="picture file 1 is damaged"):
        decode_document(encode_document(damaged))
    twice = msgspec.structs.replace(document, pictures=(document.pictures[0], document.pictures[0]))
    with pytest.raises(FileError, match="two of the picture 'picture-1'"):
        decode_document(encode_document(twice))
    heavy = bytes(MOST_BYTES + 1)
    with pytest.raises(DocumentError, match="40 MB is the most"):
        lay_picture(new_document(), plain_picture(file=digest_of(heavy)), heavy)
    named = keep_eye(document, "rear").document
    with pytest.raises(FileError, match="kept eye"):
        decode_document(encode_document(msgspec.structs.replace(named, eyes=named.eyes * 2)))


def test_a_picture_whose_file_is_missing_is_kept_and_draws_nothing():
    document = without_files(photographed("P06"))
    again = decode_document(encode_document(document))
    assert again.pictures == document.pictures and len(solve(again).of("photographs").pictures) == 0


def test_recovered_work_has_each_picture_once_under_its_digest(tmp_path):
    document = photographed("P06")
    folder, kept = tmp_path / "work.pictures", set()
    keep_files(document, folder, kept)
    (file,) = folder.iterdir()
    before = file.stat().st_mtime_ns
    keep_files(document, folder, kept)
    assert file.stat().st_mtime_ns == before and document.files[0].digest in file.name
    light = encode_document(without_files(document))
    assert len(light) < 20_000
    assert with_kept_files(decode_document(light), folder) == document
    file.write_bytes(b"other")
    assert with_kept_files(decode_document(light), folder).files[0].data == b""


# --- placing ------------------------------------------------------------------------------------------------------


numbers = st.floats(-300, 300).map(lambda v: round(v, 3))
cameras = st.builds(
    Camera, focal_px=st.floats(900, 4000), centre=st.tuples(st.floats(300, 900), st.floats(200, 700)),
    bend=st.floats(-0.1, 0.1), position=st.just((0.0, 0.0, 1600.0)),
)  # fmt: skip


@FEW
@given(cameras, st.tuples(numbers, numbers), st.floats(0.05, 2.0), st.floats(-180, 180), st.integers(0, 2**31))
def test_pixels_go_to_paper_and_back(camera, middle, pixel, turn, seed):
    picture = plain_picture(camera=camera, middle=middle, pixel=pixel, turn_deg=turn)
    sheet = new_document().sheet
    places = np.random.default_rng(seed).uniform([0, 0], [1199, 899], (12, 2))
    assert bent(camera, straight(camera, places)) == pytest.approx(places, abs=1e-6)
    assert to_pixels(picture, sheet, to_paper(picture, sheet, places)) == pytest.approx(places, abs=1e-6)
    plain = msgspec.structs.replace(picture, camera=None)
    (at,) = to_paper(plain, sheet, [plain.centre])
    assert sheet.from_corner(*at) == pytest.approx(middle), "its middle lies where it is said to lie"


@FEW
@given(st.tuples(numbers, numbers), st.floats(0.1, 0.6), st.floats(-40, 40))
def test_a_matched_picture_takes_its_eye_along(middle, pixel, turn):
    """However it is moved, scaled and turned, all directions vanish at the same of its pixels, and boxes stay on what they were on."""
    document = photographed("P06")
    picture = document.pictures[0]
    box = Box(id="b", name="B", corner=(0.0, 0.0, 0.0), size=(900.0, 700.0, 400.0))
    document = msgspec.structs.replace(document, volumes=(box,))
    moved = move_picture(document, picture.id, middle=middle, pixel=pixel, turn_deg=turn).document
    assert in_place(moved, moved.pictures[0])
    for one in (document, moved):
        paper = np.array([vanishing(one.eye, way).at for way in np.eye(3)])
        pixels = to_pixels(one.pictures[0], one.sheet, paper)
        assert pixels == pytest.approx(
            to_pixels(picture, document.sheet, [vanishing(document.eye, w).at for w in np.eye(3)]), rel=1e-6, abs=1e-4
        )
        drawn = one.eye.project([box.corner, (900.0, 700.0, 400.0)])[0]
        first = document.eye.project([box.corner, (900.0, 700.0, 400.0)])[0]
        assert to_pixels(one.pictures[0], one.sheet, drawn) == pytest.approx(
            to_pixels(picture, document.sheet, first), abs=1e-5
        )


def test_under_another_eye_it_is_only_a_card():
    document = photographed("P06")
    other = msgspec.structs.replace(
        document, eye=msgspec.structs.replace(document.eye, yaw_deg=document.eye.yaw_deg + 5.0)
    )
    assert not in_place(other, other.pictures[0]) and len(solve(other).of("photographs").pictures) == 0
    moved = move_picture(other, "picture-1", middle=(10.0, 20.0)).document
    assert moved.eye == other.eye and moved.sheet == other.sheet, "it does not take an eye along that is not its own"


def test_cropping_changes_only_what_is_seen():
    document = photographed("P06")
    cropped = crop_picture(document, "picture-1", (0.25, 0.0, 1.0, 0.5)).document
    assert cropped.eye == document.eye and cropped.pictures[0].camera == document.pictures[0].camera
    (whole,), (part,) = (list(solve(d).of("photographs").pictures) for d in (document, cropped))
    assert part.pixels.shape[1] == pytest.approx(0.75 * whole.pixels.shape[1], abs=1)
    corner = part.place @ np.array([0.0, 0.0, 1.0])
    there = whole.place @ np.array([0.25 * whole.pixels.shape[1], 0.0, 1.0])
    assert corner == pytest.approx(there, abs=1e-9), "what is left stays where it was"
    with pytest.raises(DocumentError, match="Nothing of the picture"):
        crop_picture(document, "picture-1", (0.6, 0.0, 0.5, 1.0))
    gone = remove_picture(document, "picture-1").document
    assert gone.files == () and gone.pictures == ()


def test_a_bent_picture_is_shown_straightened():
    lines = Image.new("L", (400, 300), 255)
    pixels = np.asarray(lines).copy()
    camera = Camera(focal_px=400.0, centre=(199.5, 149.5), bend=-0.1, position=(0.0, 0.0, 1.0))
    x = np.linspace(40, 360, 2000)
    for cx, cy in bent(camera, np.column_stack([x, np.full_like(x, 40.0)])):
        pixels[round(cy), round(cx)] = 0
    data = packed(Image.fromarray(pixels))
    picture = plain_picture(width=400, height=300, file=digest_of(data), camera=camera)
    shown = pixels_of(picture, data)[..., 0]
    rows = [int(np.argmin(shown[:, column])) for column in range(80, 320, 20)]
    assert max(rows) - min(rows) <= 1 and abs(rows[0] - 40) <= 1
    assert grey_of(picture, data)[0, 0] == 255 and grey_of(picture, data).shape == (300, 400)


# --- surfaces -----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("ending", ["png", "pdf", "svg"])
def test_a_paled_picture_lies_under_the_drawing_on_every_surface(ending, tmp_path):
    from pathlib import Path

    blue = packed(Image.new("RGB", (90, 60), (0, 0, 255)))
    document = new_document()
    picture = plain_picture(width=90, height=60, file=digest_of(blue), middle=(210.0, 148.5), pixel=2.0, pale=0.5)
    document = lay_picture(document, picture, blue).document
    for pale, hidden, expected in (
        (0.5, False, (127, 127, 255)),
        (0.0, False, (0, 0, 255)),
        (0.5, True, (255, 255, 255)),
    ):
        shown = change_picture(document, "picture-1", "x", pale=pale, hidden=hidden).document
        data = export_bytes(solve(shown), Path(f"x.{ending}"), dpi=40.0)
        if ending == "svg":
            assert (b"<image" in data) is not hidden and (b'opacity="0.5"' in data) is (pale == 0.5 and not hidden)
            continue
        image = Image.open(io.BytesIO(data)) if ending == "png" else pypdfium2.PdfDocument(data)[0].render().to_pil()
        at = (round(0.5 * image.width), round(0.42 * image.height))
        assert image.convert("RGB").getpixel(at) == pytest.approx(expected, abs=6)


# --- kept eyes ----------------------------------------------------------------------------------------------------


def test_eyes_are_kept_walked_through_in_one_step_and_forgotten():
    document = photographed("P06")
    box = Box(id="b", name="B", corner=(0.0, 0.0, 0.0), size=(900.0, 700.0, 400.0))
    document = msgspec.structs.replace(document, volumes=(box,))
    lower = msgspec.structs.replace(document.eye, position=(*document.eye.position[:2], 700.0))
    document = keep_eye(msgspec.structs.replace(document, eye=lower), "from the kerb").document
    wide = fresh_sheet(document, 297.0, 210.0, 120.0).document
    assert drawn_width(wide) == pytest.approx(120.0) and wide.eye.position == document.eye.position
    document = keep_eye(wide, "small").document
    assert [kept.name for kept in eyes_of(document)] == ["photograph", "from the kerb", "small"]
    assert eye_now(document).name == "small"
    history = History.of(document)
    for expected in ("photograph", "from the kerb", "small", "photograph"):
        assert history.do(next_eye(history.document)) and eye_now(history.document).name == expected
    assert in_place(history.document, history.document.pictures[0]) and not history.document.pictures[0].hidden
    assert history.document.sheet.width == document.pictures[0].paper[0]
    assert history.undo() and history.document == document, "walking is one step"
    assert eye_now(next_eye(document, -1).document).name == "from the kerb"
    assert seen_by(document, "photograph").eye == go_to_eye(document, "photograph").document.eye
    with pytest.raises(DocumentError, match="There are: photograph, from the kerb, small"):
        seen_by(document, "nobody")
    with pytest.raises(DocumentError, match="kept by itself"):
        keep_eye(document, "photograph")
    left = forget_eye(document, "small").document
    assert [kept.name for kept in left.eyes] == ["from the kerb"]
    assert place_of(document.pictures[0], document.sheet).shape == (3, 3)


def test_edits_that_merge_are_one_step_until_another_comes_between():
    document = photographed("P06")
    history = History.of(document)
    for pale in (0.1, 0.2, 0.3):
        history.do(change_picture(history.document, "picture-1", "pale", merges="pale", pale=pale))
    history.do(keep_eye(history.document, "x"))
    history.do(change_picture(history.document, "picture-1", "pale", merges="pale", pale=0.9))
    assert history.undo() and history.document.pictures[0].pale == 0.3
    assert history.undo() and history.undo() and history.document == document and not history.undo()
