"""Make the demos that begin with a picture: things of Lantern Row rendered by the program's own eye, with noise and a bent lens, and
marks on them. Written to src/isometron/assets/demos; nothing real is in them."""

from __future__ import annotations

import io
from pathlib import Path

import msgspec
import numpy as np
from PIL import Image, ImageDraw, ImageFilter
from scipy.ndimage import gaussian_filter, map_coordinates

from isometron.demos.tea_cart import tea_cart
from isometron.document.model import Document
from isometron.document.pictures.marks import LineMark
from isometron.document.pictures.picture_edits import lay_picture
from isometron.document.pictures.placing import bent, straight
from isometron.document.pictures.sheet_picture import Camera, SheetPicture, TrueLength
from isometron.document.store.files import encode_document
from isometron.document.store.picture_files import digest_of
from isometron.match.picture_eye import with_eye
from isometron.solve.seen_faces import faces_standing
from isometron.view.eye import Eye
from isometron.view.sheet import Sheet
from isometron.volumes.box import Box
from isometron.volumes.building import scene_of
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.turned import ProfileRing, Turned

OUT = Path(__file__).parent.parent / "src" / "isometron" / "assets" / "demos"
SUPER = 3
LIGHT = np.array([0.35, -0.62, 0.7])


class Shot:
    """A camera before volumes: what it sees as pixels, and where it sees a place."""

    def __init__(self, eye: Eye, size: tuple[int, int], focal: float, bend: float) -> None:
        self.eye = msgspec.structs.replace(eye, viewing_distance=focal)
        self.size, self.focal = size, focal
        self.middle = ((size[0] - 1) / 2, (size[1] - 1) / 2)
        self.lens = Camera(focal_px=focal, centre=self.middle, bend=bend, position=(0.0, 0.0, 0.0))
        self.rng = np.random.default_rng(11)

    def pixels(self, places: np.ndarray) -> np.ndarray:
        paper, _ = self.eye.project(places)
        flat = np.column_stack([self.middle[0] + paper[:, 0], self.middle[1] - paper[:, 1]])
        return bent(self.lens, flat)

    def line(
        self, along: str, start: tuple[float, float, float], end: tuple[float, float, float], count: int = 2
    ) -> LineMark:
        """Mark an edge as a careful hand would: off by less than half a pixel."""
        places = np.linspace(start, end, count)
        seen = self.pixels(places) + self.rng.normal(0.0, 0.3, (count, 2))
        return LineMark(along=along, points=tuple((round(float(x), 2), round(float(y), 2)) for x, y in seen))

    def render(self, volumes: tuple[AnyVolume, ...], tones: dict[str, tuple[int, int, int]]) -> bytes:
        """Return the picture as a JPEG: flat light on each face, a soft shadow on the ground, the lens's bend, noise."""
        width, height = (SUPER * side for side in self.size)
        image = self._ground(width, height)
        scene = scene_of(volumes)
        standing = faces_standing(scene)
        self._shadow(image, scene.vertices)
        draw = ImageDraw.Draw(image)
        light = LIGHT / np.linalg.norm(LIGHT)
        for face, owner, part in zip(standing.faces, standing.owner, standing.visible(self.eye), strict=True):
            tone = np.array(tones.get(volumes[owner].id, (150, 140, 125)), dtype=np.float64)
            shade = 0.42 + 0.58 * max(float(face.outward @ light), 0.0) + 0.12 * face.outward[2]
            colour = tuple(int(c) for c in np.clip(tone * shade, 0, 255))
            for piece in getattr(part, "geoms", [part]):
                if piece.geom_type == "Polygon" and not piece.is_empty:
                    ring = np.array(piece.exterior.coords)
                    spots = [
                        ((self.middle[0] + u + 0.5) * SUPER, (self.middle[1] - v + 0.5) * SUPER) for u, v in ring
                    ]
                    draw.polygon(spots, fill=colour, outline=colour)
        return self._developed(np.asarray(image, dtype=np.float64))

    def _ground(self, width: int, height: int) -> Image.Image:
        rows = np.arange(height)[:, None] / SUPER - self.middle[1]
        rise = np.radians(self.eye.pitch_deg) + np.arctan2(-rows, self.focal)
        wall = np.array([186.0, 180.0, 168.0])
        floor = np.array([148.0, 140.0, 128.0])
        part = np.clip(rise / 0.05 + 0.5, 0.0, 1.0)[..., None]
        tone = part * wall + (1.0 - part) * (floor + 40.0 * np.clip(rise[..., None] + 0.35, 0.0, 1.0))
        return Image.fromarray(np.broadcast_to(tone, (height, width, 3)).astype(np.uint8))

    def _shadow(self, image: Image.Image, vertices: np.ndarray) -> None:
        from scipy.spatial import ConvexHull

        flat = vertices[:, :2] - vertices[:, 2:] * (LIGHT[:2] / LIGHT[2]) * 0.8
        hull = flat[ConvexHull(flat).vertices]
        paper, depth = self.eye.project(np.column_stack([hull, np.zeros(len(hull))]))
        if not (depth > 0.0).all():
            return
        mask = Image.new("L", image.size, 0)
        spots = [((self.middle[0] + u + 0.5) * SUPER, (self.middle[1] - v + 0.5) * SUPER) for u, v in paper]
        ImageDraw.Draw(mask).polygon(spots, fill=110)
        mask = mask.filter(ImageFilter.GaussianBlur(9 * SUPER))
        image.paste(Image.new("RGB", image.size, (40, 38, 40)), (0, 0), mask)

    def _developed(self, fine: np.ndarray) -> bytes:
        width, height = self.size
        small = fine.reshape(height, SUPER, width, SUPER, 3).mean(axis=(1, 3))
        x, y = np.meshgrid(np.arange(width, dtype=np.float64), np.arange(height, dtype=np.float64))
        there = straight(self.lens, np.stack([x.ravel(), y.ravel()], axis=1))
        planes = [
            map_coordinates(small[..., k], [there[:, 1], there[:, 0]], order=1, mode="nearest") for k in range(3)
        ]
        shown = np.stack(planes, axis=1).reshape(height, width, 3)
        shown = gaussian_filter(shown, (0.6, 0.6, 0.0)) + self.rng.normal(0.0, 3.0, (height, width, 1))
        out = io.BytesIO()
        Image.fromarray(np.clip(shown, 0, 255).astype(np.uint8)).save(out, "JPEG", quality=86)
        return out.getvalue()


def documented(title: str, shot: Shot, data: bytes, name: str, sheet: Sheet, lines: tuple[LineMark, ...],
               corner: tuple[float, float, float], volumes: tuple[AnyVolume, ...]) -> Document:  # fmt: skip
    """Return the document of a picture with its marks: the eye found from them, the volumes where they were pulled."""
    document = Document(title=title, sheet=sheet, eye=Eye(position=(0.0, -4000.0, 1600.0), viewing_distance=450.0))
    width, height = shot.size
    pixel = 0.98 * min(sheet.width / width, sheet.height / height)
    picture = SheetPicture(
        id="picture", name=name, file=digest_of(data), width=width, height=height, middle=(sheet.width / 2, sheet.height / 2),
        pixel=pixel, paper=(sheet.width, sheet.height), pale=0.3,
    )  # fmt: skip
    document = lay_picture(document, picture, data).document
    ((x, y),) = shot.pixels(np.array([corner]))
    picture = msgspec.structs.replace(
        document.pictures[0], lines=lines, corner=(round(float(x), 2), round(float(y), 2)),
        true=TrueLength(of="eye", mm=shot.eye.position[2]), carried=True,
    )  # fmt: skip
    document = with_eye(document, picture)
    moved = tuple(
        msgspec.structs.replace(v, corner=tuple(a - b for a, b in zip(v.corner, corner, strict=True)))
        for v in volumes
    )
    return msgspec.structs.replace(document, volumes=moved)


def market_snapshot() -> Document:
    """The tea cart on the market ground, from a standing eye; its body and counter boxed."""
    cart = tuple(v for v in tea_cart().volumes if v.id != "whole")
    eye = Eye(position=(4250.0, -2950.0, 1560.0), yaw_deg=40.0, pitch_deg=-8.5, roll_deg=0.6, viewing_distance=1.0)
    shot = Shot(eye, (1600, 1200), 1500.0, -0.07)
    tones = {"body": (196, 92, 52), "counter": (214, 186, 140), "canopy": (232, 220, 196), "lamp": (244, 214, 140)}
    tones |= {v.id: (74, 70, 68) for v in cart if v.id.startswith("wheel")} | {
        v.id: (120, 92, 66) for v in cart if v.id.startswith("post")
    }
    data = shot.render(cart, tones)
    x0, x1, y0, y1, z0, z1 = 40.0, 1840.0, 80.0, 1070.0, 280.0, 1000.0
    cx1, cy0, cy1, cz0, cz1 = 1880.0, 0.0, 1150.0, 1000.0, 1040.0
    lines = (
        shot.line("long", (x0, y0, z0), (x1, y0, z0), 5),
        shot.line("long", (0.0, cy0, cz1), (cx1, cy0, cz1), 5),
        shot.line("long", (0.0, cy0, cz0), (cx1, cy0, cz0), 5),
        shot.line("wide", (x1, y0, z0), (x1, y1, z0), 3),
        shot.line("wide", (cx1, cy0, cz0), (cx1, cy1, cz0), 3),
        shot.line("wide", (cx1, cy0, cz1), (cx1, cy1, cz1), 3),
        shot.line("high", (x0, y0, z0), (x0, y0, z1)),
        shot.line("high", (x1, y0, z0), (x1, y0, z1)),
        shot.line("high", (x1, y1, z0), (x1, y1, z1)),
        shot.line("high", (60.0, 100.0, 1040.0), (60.0, 100.0, 1640.0)),
    )  # fmt: skip
    boxed = tuple(msgspec.structs.replace(v, hangs=True) for v in cart if v.id in ("body", "counter"))
    sheet = Sheet(width=420.0, height=297.0, centre_of_vision=(210.0, 148.5))
    return documented("Market snapshot", shot, data, "market snapshot.jpg", sheet, lines, (x1, y0, 0.0), boxed)


def vessel_on_a_shelf() -> Document:
    """A glazed vessel between two boxes on a shelf, seen from above; the vessel as it is traced by its outline."""
    vessel = Turned(
        id="vessel", name="Vessel", corner=(-95.0, -95.0, 0.0), size=(190.0, 190.0, 420.0),
        profile=(
            ProfileRing(at=0.0, wide=0.62, then="smooth"), ProfileRing(at=0.12, wide=0.84, then="smooth"),
            ProfileRing(at=0.36, wide=1.0, then="smooth"), ProfileRing(at=0.62, wide=0.72, then="smooth"),
            ProfileRing(at=0.76, wide=0.4, then="smooth"), ProfileRing(at=0.94, wide=0.36),
            ProfileRing(at=0.95, wide=0.5), ProfileRing(at=1.0, wide=0.5),
        ),
    )  # fmt: skip
    tin = Box(id="tin", name="Tin", corner=(160.0, -130.0, 0.0), size=(240.0, 170.0, 130.0))
    crate = Box(id="crate", name="Crate", corner=(-420.0, -60.0, 0.0), size=(230.0, 260.0, 180.0))
    eye = Eye(position=(900.0, -1250.0, 760.0), yaw_deg=34.0, pitch_deg=-19.0, roll_deg=-0.8, viewing_distance=1.0)
    shot = Shot(eye, (1200, 1500), 2100.0, -0.04)
    shelf = Box(id="shelf", name="Shelf", corner=(-900.0, -330.0, -28.0), size=(1800.0, 760.0, 28.0))
    tones = {"vessel": (92, 138, 144), "tin": (206, 160, 92), "crate": (168, 132, 98), "shelf": (176, 150, 118)}
    data = shot.render((shelf, vessel, tin, crate), tones)
    x0, x1, y0, y1, z1 = 160.0, 400.0, -130.0, 40.0, 130.0
    cx0, cx1, cy0, cy1, cz1 = -420.0, -190.0, -60.0, 200.0, 180.0
    lines = (
        shot.line("long", (x0, y0, 0.0), (x1, y0, 0.0), 3), shot.line("long", (x0, y0, z1), (x1, y0, z1), 3),
        shot.line("long", (x0, y1, z1), (x1, y1, z1), 3), shot.line("long", (cx0, cy0, cz1), (cx1, cy0, cz1), 3),
        shot.line("wide", (x1, y0, 0.0), (x1, y1, 0.0), 3), shot.line("wide", (x1, y0, z1), (x1, y1, z1), 3),
        shot.line("wide", (x0, y0, z1), (x0, y1, z1), 3), shot.line("wide", (cx1, cy0, cz1), (cx1, cy1, cz1), 3),
        shot.line("high", (x0, y0, 0.0), (x0, y0, z1)), shot.line("high", (x1, y0, 0.0), (x1, y0, z1)),
        shot.line("high", (x1, y1, 0.0), (x1, y1, z1)),
    )  # fmt: skip
    sheet = Sheet(width=297.0, height=420.0, centre_of_vision=(148.5, 210.0))
    return documented(
        "Vessel on a shelf", shot, data, "vessel on a shelf.jpg", sheet, lines, (x1, y0, 0.0), (vessel, tin)
    )


def main() -> None:
    """Write all demos that begin with a picture."""
    OUT.mkdir(exist_ok=True)
    for name, make in (("market-snapshot", market_snapshot), ("vessel-on-a-shelf", vessel_on_a_shelf)):
        data = encode_document(make())
        (OUT / f"{name}.isometron").write_bytes(data)
        print(f"{name}.isometron, {len(data) // 1024} KB")


if __name__ == "__main__":
    main()
