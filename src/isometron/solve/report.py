"""The report: everything measured, as plain values. Keys and units are in docs/report-keys.md and stable.

Lengths in mm, angles in degrees, paper points [u, v] from the centre of vision, u right and v up.
"""

from __future__ import annotations

from typing import Any

import msgspec
import numpy as np

from isometron.document.lengths.proportion import module_mm
from isometron.document.lengths.sizes import Sizes
from isometron.document.lengths.targets import Met, targets_met
from isometron.document.model import Document, DocumentError, NamedLength
from isometron.document.shapes.profiles import places_of
from isometron.geometry.frames import Floats
from isometron.geometry.sections.planes import Cutting
from isometron.geometry.sections.regions import Outlined
from isometron.progress import Tell, telling, unheard
from isometron.solve.drawing import Drawing
from isometron.solve.findings import Finding
from isometron.solve.measures import EdgeMeasure, off_sheet
from isometron.solve.ring_facts import RingFact, ring_facts
from isometron.view.sheet import paper_name
from isometron.view.vanishing import Vanishing, box_vanishing, horizon, measuring_point, point_count, vanishing
from isometron.volumes.cut.profiles import VIEWS, CutProfile, ViewName, view_size
from isometron.volumes.faces.names import edge_name, face_name
from isometron.volumes.faces.plane import BodyFace
from isometron.volumes.kinds import AnyVolume, own_faces
from isometron.volumes.sections.facts import drawn_length, section_facts
from isometron.volumes.sections.lines import sections_of
from isometron.volumes.sections.plane import KeptPlane
from isometron.volumes.volume import DIRECTIONS

__all__ = ["REPORT_FORMAT", "REPORT_VERSION", "report"]

REPORT_FORMAT = "isometron report"
REPORT_VERSION = 2

Values = dict[str, Any]


def report(drawing: Drawing, tell: Tell = unheard) -> Values:
    """Return the report of a drawing as nested dictionaries, lists, numbers, text and None."""
    document = drawing.document
    sheet = document.sheet
    return {
        "format": REPORT_FORMAT,
        "version": REPORT_VERSION,
        "title": document.title,
        "length_unit": "mm",
        "angle_unit": "deg",
        "sheet": {
            "paper": paper_name(sheet.width, sheet.height),
            "width": sheet.width,
            "height": sheet.height,
            "centre_of_vision": list(sheet.centre_of_vision),
        },
        "view": _view(drawing),
        "proportion": _proportion(drawing),
        "volumes": [_volume(drawing, owner) for owner in telling(range(len(document.volumes)), tell)],
        "planes": [_plane(document, plane) for plane in document.planes],
        "warnings": [_finding(finding) for finding in drawing.findings],
    }


def _plane(document: Document, plane: KeptPlane) -> Values:
    sections = sections_of(plane, document.volumes, document.cutting) if plane.cuts else ()
    return {"id": plane.id, "name": plane.name, "sections": [_section(document, *found) for found in sections]}


def _section(document: Document, outlined: Outlined, cutting: Cutting) -> Values:
    facts, drawn = section_facts(outlined, cutting), drawn_length(outlined, cutting, document.eye)
    return {
        "area": float(facts.area),
        "outline_length": float(facts.length),
        "outline_on_paper": None if np.isnan(drawn) else float(drawn),
        "pieces": facts.pieces,
        "holes": facts.holes,
        "highest": facts.highest_z,
        "lowest": facts.lowest_z,
    }


def _view(drawing: Drawing) -> Values:
    eye, sheet = drawing.document.eye, drawing.document.sheet
    line = horizon(eye)
    level = line is not None and line.level
    return {
        "eye": list(eye.position),
        "station_point": list(eye.position[:2]),
        "yaw_deg": eye.yaw_deg,
        "pitch_deg": eye.pitch_deg,
        "roll_deg": eye.roll_deg,
        "viewing_distance": eye.viewing_distance,
        "cone": {"angle_deg": eye.cone_deg, "radius": eye.cone_radius},
        "horizon": None
        if line is None
        else {
            "normal": list(line.normal),
            "offset": line.offset,
            "above_lower_edge": line.height_at(0.0) + sheet.centre_of_vision[1] if level else None,
        },
        "directions": _directions(drawing),
    }


def _proportion(drawing: Drawing) -> Values:
    """What the document means: its module, lengths with names, and targets against what is drawn."""
    document = drawing.document
    sizes = Sizes(document.volumes, document.lengths)
    return {
        "module": document.module or None,
        "module_length": module_mm(document),
        "lengths": [
            {"name": length.name, "text": length.text, "length": _worked_out(sizes, length)}
            for length in document.lengths
        ],
        "targets": [
            _target(target.text, found) for target, found in zip(document.targets, targets_met(document), strict=True)
        ],
    }


def _worked_out(sizes: Sizes, length: NamedLength) -> float | None:
    try:
        return sizes.value(length.name, length.unit)
    except DocumentError:
        return None


def _target(text: str, found: Met | str) -> Values:
    if isinstance(found, str):
        return {"text": text, "drawn": None, "meant": None, "met": None, "unclear": found}
    return {"text": text, "drawn": found.drawn, "meant": found.meant, "met": found.is_met, "unclear": None}


def _directions(drawing: Drawing) -> list[Values]:
    """One entry for the world's own directions, then one for each other way in which volumes stand."""
    groups: dict[tuple[float, float, float], list[str]] = {(0.0, 0.0, 0.0): []}
    rotations: dict[tuple[float, float, float], Floats] = {(0.0, 0.0, 0.0): np.eye(3)}
    for owner, volume in enumerate(drawing.document.volumes):
        angles = (volume.yaw_deg, volume.pitch_deg, volume.roll_deg)
        groups.setdefault(angles, []).append(volume.id)
        rotations.setdefault(angles, drawing.scene.rotations[owner])
    return [_standing(drawing, angles, rotations[angles], ids) for angles, ids in groups.items()]


def _standing(drawing: Drawing, angles: tuple[float, float, float], rotation: Floats, ids: list[str]) -> Values:
    eye = drawing.document.eye
    points = box_vanishing(eye, rotation)
    upright = abs(rotation[2, 2]) == 1.0 or (angles[1] == 0.0 and angles[2] == 0.0)
    diagonals = [vanishing(eye, rotation[:, 0] + s * rotation[:, 1]) for s in (1.0, -1.0)]
    return {
        "yaw_deg": angles[0],
        "pitch_deg": angles[1],
        "roll_deg": angles[2],
        "volumes": ids,
        "points": point_count(eye, rotation),
        "vanishing": {name: _vanishing(drawing, v) for name, v in zip(DIRECTIONS, points, strict=True)},
        "diagonal_45": [_vanishing(drawing, v) for v in diagonals],
        "measuring": {
            "long": _measuring(drawing, points[0], points[1], upright),
            "wide": _measuring(drawing, points[1], points[0], upright),
        },
    }


def _measuring(drawing: Drawing, own: Vanishing, other: Vanishing, upright: bool) -> list[float] | None:
    if own.at is None or not upright:
        return None
    point = measuring_point(drawing.document.eye, own.at, other.at or (0.0, 0.0))
    return None if point is None else list(point)


def _vanishing(drawing: Drawing, point: Vanishing) -> Values:
    if point.at is None:
        return {"finite": False, "direction": list(point.direction or ())}
    return {"finite": True, "at": list(point.at), "off_sheet": off_sheet(drawing.document, point.at)}


def _volume(drawing: Drawing, owner: int) -> Values:
    volume = drawing.document.volumes[owner]
    rows = np.flatnonzero(drawing.scene.vertex_owner == owner)
    paper, depth = drawing.picture.paper[rows], drawing.picture.camera[rows, 2]
    return {
        "id": volume.id,
        "name": volume.name,
        "kind": str(volume.__struct_config__.tag),
        "see_through": volume.see_through,
        "put_away": volume.put_away,
        "locked": volume.locked,
        "hangs": volume.hangs,
        "ahead": volume.ahead,
        "rounded_edges": [edge_name(volume, edge) for edge in volume.rounded],
        "wall": volume.wall,
        "corner": list(volume.corner),
        "size": list(volume.size),
        "yaw_deg": volume.yaw_deg,
        "pitch_deg": volume.pitch_deg,
        "roll_deg": volume.roll_deg,
        "profiles": [_profile(volume, view) for view in VIEWS if getattr(volume, view, None) is not None],
        "faces": [_face(volume, face, drawing) for face in own_faces(volume).values()],
        "marks": [_plain(mark) for mark in volume.marks],
        "copies": [_plain(row) for row in volume.copies],
        "mirror": _plain(volume.mirror),
        "joined": _plain(volume.joined),
        "says": [_plain(said) for said in volume.says],
        "keep": None if volume.keep is None else list(volume.keep.parts),
        "group": volume.group or None,
        "corners": [None if np.isnan(p).any() else p.tolist() for p in paper],
        "depths": depth.tolist(),
        "edges": [_edge(drawing, measure) for measure in drawing.measures(owner)],
        "rings": [_ring(fact) for fact in ring_facts(drawing, owner)],
    }


def _profile(volume: AnyVolume, view: ViewName) -> Values:
    profile: CutProfile = getattr(volume, view)
    return {
        "view": view,
        "alike": profile.alike,
        "corners": [
            {
                "n": c.n,
                "at": list(places_of(c, view_size(volume, view))),
                "round": c.round,
                "chamfer": c.chamfer,
                "bow": c.bow,
            }
            for c in profile.corners
        ],
    }


def _face(volume: AnyVolume, face: BodyFace, drawing: Drawing) -> Values:
    return {
        "id": face.id,
        "name": face_name(volume, face.id),
        "outward": face.outward.tolist(),
        "area": face.area,
        "looks_at_eye": bool((drawing.document.eye.place - face.corner) @ face.outward > 0.0),
    }


def _plain(value: object) -> Any:
    """Return a value of the document as in its file, with what is left out there: dictionaries, lists, numbers, text, None."""
    if isinstance(value, msgspec.Struct):
        own = value.__struct_config__
        tag = {own.tag_field: own.tag} if own.tag_field else {}
        return tag | {each.encode_name: _plain(getattr(value, each.name)) for each in msgspec.structs.fields(value)}
    return [_plain(each) for each in value] if isinstance(value, tuple) else value


def _ring(fact: RingFact) -> Values:
    picture, fit = fact.picture, fact.fit
    return {
        "diameter": fact.diameter,
        "picture": picture.kind,
        "centre": None if picture.centre is None else list(picture.centre),
        "true_centre": None if picture.true_centre is None else list(picture.true_centre),
        "semi_major": picture.semi_major,
        "semi_minor": picture.semi_minor,
        "degree": picture.degree if picture.kind == "ellipse" else None,
        "major_angle_deg": picture.major_angle,
        "axle_off_deg": picture.deviation,
        "touching": [None if at is None else list(at) for at in picture.touching],
        "template_degree": None if fit is None else fit.degree,
        "template_major": None if fit is None else fit.major,
        "template_gap": None if fit is None else fit.gap,
    }


def _edge(drawing: Drawing, m: EdgeMeasure) -> Values:
    return {
        "corners": list(m.corners),
        "direction": DIRECTIONS[m.axis] if m.axis >= 0 else None,
        "going": m.going,
        "true": m.true,
        "drawn": m.drawn,
        "unforeshortened": m.unforeshortened,
        "foreshortening": m.foreshortening,
        "slope_deg": m.slope_deg,
        "vanishing": _vanishing(drawing, m.vanishing),
        "visible": [list(part) for part in m.visible],
        "hidden": [list(part) for part in m.hidden],
    }


def _finding(finding: Finding) -> Values:
    return {
        "code": finding.code,
        "volumes": list(finding.volumes),
        "at": None if finding.at is None else list(finding.at),
        "figure": finding.figure,
        "unit": finding.unit,
        "message": finding.message,
    }
