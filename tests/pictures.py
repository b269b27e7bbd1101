"""Pictures for tests: photographs with known truth on a sheet, and plain ones of our own."""

import io
import json
from functools import cache
from pathlib import Path

import msgspec
import numpy as np
from PIL import Image

from isometron.document.fresh import new_document
from isometron.document.pictures.marks import LineMark
from isometron.document.pictures.picture_edits import lay_picture
from isometron.document.pictures.sheet_picture import SheetPicture
from isometron.match.picture_eye import with_eye
from isometron.pictures.intake import taken_in

PHOTOS = Path(__file__).parent / "cases" / "photos"


@cache
def truth(name):
    return json.loads((PHOTOS / f"{name}.json").read_text())


@cache
def photographed(name, noise="exact"):
    """A document with a photograph on its sheet, the main thing's edges marked by its truth, its eye found."""
    photo = truth(name)
    data = (PHOTOS / f"{name}.jpg").read_bytes()
    taken = taken_in(new_document(), data, f"{name}.jpg")
    document = lay_picture(new_document(), taken.picture, data).document
    thing = photo["objects"][0]["name"]
    lines = tuple(
        LineMark(along=edge["direction"], points=tuple(map(tuple, mark[noise])))
        for mark in photo["marks"]["edges"] for edge in [photo["edges"][mark["of"]]] if edge["object"] == thing
    )  # fmt: skip
    return with_eye(document, msgspec.structs.replace(document.pictures[0], lines=lines))


def seen(name, place):
    """Where a photograph shows a place of its world, px, its lens taken as straight."""
    camera = truth(name)["camera"]
    right, up, look = (np.array(camera[key]) for key in ("right", "up", "look"))
    off = np.array(place) - camera["position"]
    x, y = camera["principal_point"]
    return np.array(
        [x + camera["f_px"] * (off @ right) / (off @ look), y - camera["f_px"] * (off @ up) / (off @ look)]
    )


def plain_picture(**fields):
    """A picture of no file."""
    made = {"id": "p", "name": "P", "file": "0" * 64, "width": 1200, "height": 900, "paper": (420.0, 297.0),
            "middle": (200.0, 150.0), "pixel": 0.25}  # fmt: skip
    return SheetPicture(**made | fields)


def packed(image, kind="PNG", **how):
    out = io.BytesIO()
    image.save(out, kind, **how)
    return out.getvalue()


def noisy(width, height, seed=1):
    """A picture that packs badly."""
    rng = np.random.default_rng(seed)
    return Image.fromarray(rng.integers(0, 256, (height, width, 3), dtype=np.uint8))
