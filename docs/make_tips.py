"""Make the small pictures that stand in tips: drawn by the program itself, so that they show what it does."""

from __future__ import annotations

import io
from pathlib import Path

import msgspec
from PIL import Image, ImageChops, ImageDraw, ImageFont

from isometron.document.edits import paste_volumes
from isometron.document.fresh import new_document
from isometron.document.shapes.rounding import make_round
from isometron.document.shapes.shaping import SHAPES, make_shape
from isometron.solve.drawing import solve
from isometron.surfaces.export import export_bytes
from isometron.volumes.box import Box
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.turned import PROFILES

ASSETS = Path(__file__).parents[1] / "src" / "isometron" / "assets"
TIPS = ASSETS / "tips"
FONT = ImageFont.truetype(str(ASSETS / "fonts" / "Cabin-Regular.otf"), 13)
PAPER, INK, ACCENT, FAINT = "#FBF8F1", "#1F2424", "#C2552D", "#A79F92"
SIZE = (190, 130)
BLOCK = Box(id="b", name="Block", size=(1200.0, 700.0, 600.0), corner=(-600.0, 300.0, 0.0))


def shades(*volumes: AnyVolume) -> Image.Image:
    """How dark (0 to 255) the program draws volumes on a sheet, nothing else on it."""
    document = new_document(eye_height=1400.0)
    sheets = []
    for each in (paste_volumes(document, volumes).document, document):
        data = export_bytes(solve(each), Path("tip.png"), dpi=110.0)
        sheets.append(Image.open(io.BytesIO(data)).convert("L").crop((0, 500, 1800, 1235)))
    return ImageChops.difference(*sheets)


def drawn(*volumes: AnyVolume, before: AnyVolume | None = None) -> Image.Image:
    """Volumes as the program draws them, small; ``before`` is how it stood, paler."""
    layers = [(shades(*volumes), INK)]
    if before is not None:
        layers.insert(0, (shades(before).point(lambda value: value // 2), ACCENT))
    whole = layers[0][0]
    for shade, _ in layers[1:]:
        whole = ImageChops.lighter(whole, shade)
    box = whole.point(lambda value: 255 if value > 8 else 0).getbbox()
    assert box is not None
    room = (SIZE[0] - 16, SIZE[1] - 16)
    share = min(room[0] / (box[2] - box[0]), room[1] / (box[3] - box[1]))
    small = (max(round((box[2] - box[0]) * share), 1), max(round((box[3] - box[1]) * share), 1))
    made = Image.new("RGB", SIZE, PAPER)
    for shade, colour in layers:
        ink = shade.crop(box).resize(small, Image.Resampling.LANCZOS).point(lambda value: min(2 * value, 255))
        made.paste(Image.new("RGB", small, colour), ((SIZE[0] - small[0]) // 2, (SIZE[1] - small[1]) // 2), ink)
    return made


def save(name: str, picture: Image.Image) -> None:
    picture.quantize(32, dither=Image.Dither.NONE).save(TIPS / f"{name}.png", optimize=True)


LIFTED = msgspec.structs.replace(BLOCK, corner=(-600.0, 300.0, 350.0))


def turns() -> None:
    """A block as it stands, paler, and as it is turned, tilted or rolled."""
    for name, field in (("turn", "yaw_deg"), ("tilt", "pitch_deg"), ("roll", "roll_deg")):
        after = msgspec.structs.replace(LIFTED, id="after", **{field: 25.0 if name == "turn" else 20.0})
        save(name, drawn(after, before=LIFTED))


def shapes() -> None:
    for number, name in enumerate(SHAPES):
        document = paste_volumes(new_document(), (BLOCK,)).document
        save(f"shape-{number:02}", drawn(*make_shape(document, ("b",), name).document.volumes))
    for name in PROFILES:
        size = (700.0, 700.0, 700.0) if name in ("ball", "wheel") else (600.0, 600.0, 900.0)
        document = paste_volumes(new_document(), (msgspec.structs.replace(BLOCK, size=size),)).document
        save(f"round-{name}", drawn(*make_round(document, ("b",), name).document.volumes))


def sides() -> None:
    """A thing's own sides, with their names."""
    picture = drawn(
        make_shape(paste_volumes(new_document(), (BLOCK,)).document, ("b",), next(iter(SHAPES))).document.volumes[0]
    )
    pen = ImageDraw.Draw(picture)
    for words, place in (("front", (2, 96)), ("left side", (118, 104)), ("top", (84, 2)), ("rear", (158, 22))):
        pen.text(place, words, fill=ACCENT, font=FONT)
    save("own-sides", picture)


def holds() -> None:
    """What holds a thing along another one: the host below, the thing on it, and the length that stays."""
    for name, (x, from_, to, words) in {
        "share": (70, 20, 92, "40 %"), "start": (60, 20, 60, "by"), "middle": (104, 95, 126, "by"), "end": (96, 140, 170, "by"),
        "before": (10, 38, 50, "by"), "after": (152, 140, 152, "by"),
    }.items():  # fmt: skip
        picture = Image.new("RGB", SIZE, PAPER)
        pen = ImageDraw.Draw(picture)
        out = name in ("before", "after")
        pen.rectangle((50, 74, 140, 96) if out else (20, 74, 170, 96), outline=INK, width=2)
        wide = 28 if out else 44

        pen.rectangle((x, 48, x + wide, 72), outline=ACCENT, width=2)
        if name == "middle":
            pen.line((95, 40, 95, 108), fill=FAINT, width=1)
        pen.line((from_, 34, to, 34), fill=INK, width=1)
        for end in (from_, to):
            pen.line((end, 30, end, 38), fill=INK, width=1)
        pen.text(((from_ + to) / 2 - 10, 14), words, fill=INK, font=FONT)
        save(f"hold-{name}", picture)


def main() -> None:
    TIPS.mkdir(exist_ok=True)
    turns()
    shapes()
    sides()
    holds()


if __name__ == "__main__":
    main()
