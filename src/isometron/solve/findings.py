"""Warnings as values: what, where, by how much, what to do. A judgement is never a dialog."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from itertools import islice

import numpy as np

from isometron.document.flush import nearly_flush
from isometron.document.lengths.targets import Met, mending, targets_met
from isometron.document.lengths.units import format_length, format_number, format_paper
from isometron.document.model import Document
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.overlap import bounds, overlap_depths, pairs_within_reach
from isometron.geometry.tolerances import SAME_PLACE
from isometron.solve.on_sheet import leaving
from isometron.solve.picture import Picture
from isometron.solve.room import filled_space
from isometron.view.cone import outside_cone, stretch
from isometron.volumes.cut.body import uncut_because
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.faces.names import edge_name, face_name
from isometron.volumes.filled import filled
from isometron.volumes.marks.mark_names import mark_name
from isometron.volumes.marks.places import has_place
from isometron.volumes.openings.solids import is_carved, uncut_openings, unrounded_edges
from isometron.volumes.own_sides import view_word
from isometron.volumes.sections.lines import left_out
from isometron.volumes.undrawn import undrawn_marks
from isometron.volumes.volume import Volume
from isometron.wording import count_words, tr

__all__ = ["CHECKS", "MOST_OF_A_KIND", "Finding", "findings", "is_quiet", "missed_targets"]

MOST_OF_A_KIND = 200
"""Nobody reads more; a heap of a thousand volumes has half a million pairs that share space."""
_MOST_PAIRS = 20_000
_AT_A_TIME = 4_000_000
_NOT = {"=": "≠", "<": "≥", ">": "≤"}


@dataclass(frozen=True)
class Finding:
    """One warning. ``at`` is its place on paper in mm (None without a picture); ``figure`` in ``unit``.

    code : stable word for files and filters; volumes : ids it concerns; message : what, by how much, what to do.
    """

    code: str
    volumes: tuple[str, ...]
    at: tuple[float, float] | None
    figure: float
    unit: str
    message: str


def findings(document: Document, picture: Picture, *, quiet: bool = False) -> list[Finding]:
    """Run every check of `CHECKS`; of each the first `MOST_OF_A_KIND` warnings are told, and how many more there are.

    quiet : those that a volume is told to be quiet about, instead of the others.
    """
    away = {volume.id for volume in document.volumes if volume.put_away}
    told: list[Finding] = []
    for check in CHECKS:
        found = (
            finding
            for finding in check(document, picture)
            if not away.intersection(finding.volumes) and is_quiet(document, finding) is quiet
        )
        told += islice(found, MOST_OF_A_KIND)
        code = told[-1].code if told else ""
        more = sum(1 for _ in found)
        if more:
            words = count_words("{count} more warning of this kind.", "{count} more warnings of this kind.", more)
            told.append(Finding(code, (), None, float(more), "count", words))
    return told


def is_quiet(document: Document, finding: Finding) -> bool:
    """Whether a volume that a warning concerns is told to be quiet about its kind."""
    return any(finding.code in _quiet_of(document.volume(name)) for name in finding.volumes)


def _quiet_of(volume: Volume) -> tuple[str, ...]:
    return (*volume.quiet, "floating") if volume.hangs else volume.quiet


def _rows(picture: Picture, owner: int) -> slice:
    lo, hi = np.searchsorted(picture.scene.vertex_owner, [owner, owner + 1])
    return slice(int(lo), int(hi))


def _outside_cone(document: Document, picture: Picture) -> Iterator[Finding]:
    with np.errstate(invalid="ignore"):
        outside = outside_cone(picture.eye, picture.paper) & picture.scene.outer_vertices
    for owner in np.unique(picture.scene.vertex_owner[outside]):
        volume, rows = document.volumes[owner], _rows(picture, owner)
        corners = picture.paper[rows][outside[rows]]
        factors = stretch(picture.eye, corners)
        worst = int(np.argmax(factors))
        count = count_words("{count} corner", "{count} corners", len(corners))
        yield Finding(
            "outside-cone",
            (volume.id,),
            (float(corners[worst][0]), float(corners[worst][1])),
            float(factors[worst]),
            "ratio",
            tr(
                "{volume}: {count} outside the {cone_deg}° cone of vision, stretched up to "
                "{factors:.2f} times. Step back or lengthen the viewing distance.",
                volume=volume.name,
                count=count,
                cone_deg=format_number(picture.eye.cone_deg, 1),
                factors=factors[worst],
            ),
        )


def _eye_inside(document: Document, picture: Picture) -> Iterator[Finding]:
    scene = picture.scene
    inside = [*scene.body_owner[picture.eye_inside], *scene.unit_owner[picture.hiders.holding]]
    for owner in dict.fromkeys(inside):
        volume = document.volumes[owner]
        yield Finding(
            "eye-inside",
            (volume.id,),
            None,
            0.0,
            "mm",
            tr(
                "{volume}: the eye is inside it, so it hides nothing. Step back or move the volume.",
                volume=volume.name,
            ),
        )


def _uncut(document: Document, picture: Picture) -> Iterator[Finding]:
    """Profiles that make no outline cut nothing, and nothing of them is lost: told until they are mended."""
    for owner, volume in enumerate(document.volumes):
        if not isinstance(volume, CutBody):
            continue
        for view, why in uncut_because(volume):
            at = picture.paper[picture.scene.corner_rows[owner]].mean(axis=0)
            yield Finding(
                "uncut", (volume.id,), None if np.isnan(at).any() else (float(at[0]), float(at[1])), 0.0, "mm",
                tr("{volume}: its {view} cuts nothing. {why}", volume=volume.name, view=view_word(volume, view), why=why),
            )  # fmt: skip


def _unopened(document: Document, picture: Picture) -> Iterator[Finding]:
    """Openings that cannot be cut, and walls that leave no room: kept in the document, and told until they are mended."""
    for owner, volume in enumerate(document.volumes):
        for number, why in sorted(uncut_openings(volume).items()):
            at = picture.paper[picture.scene.corner_rows[owner]].mean(axis=0)
            place = None if np.isnan(at).any() else (float(at[0]), float(at[1]))
            words = tr("{volume}: opening {number} is not cut. {why}", volume=volume.name, number=number + 1, why=why)
            if number < 0:
                words = tr("{volume}: it is drawn solid. {why}", volume=volume.name, why=why)
            yield Finding("unopened", (volume.id,), place, 0.0, "mm", words)
        for number, why in sorted(unrounded_edges(volume).items()):
            at = picture.paper[picture.scene.corner_rows[owner]].mean(axis=0)
            place = None if np.isnan(at).any() else (float(at[0]), float(at[1]))
            edge = edge_name(volume, volume.rounded[number])
            words = tr("{volume}: the edge {edge} is not rounded. {why}", volume=volume.name, edge=edge, why=why)
            yield Finding("unopened", (volume.id,), place, 0.0, "mm", words)


def _doubtful(document: Document, picture: Picture) -> Iterator[Finding]:
    """Bodies whose surface cannot be told for certain: their sections and the space they share may be wrong."""
    from isometron.volumes.shells.shells import doubts_of  # a heavy library

    for owner, volume in enumerate(document.volumes):
        if not (is_carved(volume) or isinstance(volume, CutBody)):
            continue  # what is made of one part closes
        for why in doubts_of(volume):
            at = picture.paper[picture.scene.corner_rows[owner]].mean(axis=0)
            place = None if np.isnan(at).any() else (float(at[0]), float(at[1]))
            words = tr(
                "{volume}: its surface is in doubt, its sections may be wrong. {why}", volume=volume.name, why=why
            )
            yield Finding("doubtful", (volume.id,), place, 0.0, "mm", words)


def _unsectioned(document: Document, picture: Picture) -> Iterator[Finding]:
    """Sections that are so many, or meet so many sides, that they would hold the program: left out, and told."""
    for plane in document.planes:
        count = left_out(plane, document.volumes, document.cutting) if plane.cuts else 0
        if count:
            words = count_words(
                "{plane}: its last section is not drawn: too many sides meet. Set its planes wider apart, or name the volumes that it cuts.",
                "{plane}: its last {count} sections are not drawn: too many sides meet. Set its planes wider apart, or name the volumes that it cuts.",
                count, plane=plane.name,
            )  # fmt: skip
            yield Finding("sections-left-out", tuple(plane.only), None, float(count), "count", words)


def _marks_away(document: Document, picture: Picture) -> Iterator[Finding]:
    """Marks whose face, or place on it, an edit took away: kept, not drawn, and told until the face is back."""
    for owner, volume in enumerate(document.volumes):
        uncut = uncut_openings(volume)
        lost = {number: why for number, why in undrawn_marks(volume).items() if number not in uncut}
        for number, mark in enumerate(volume.marks, 1):
            if number - 1 in lost and has_place(volume, mark):
                at = picture.paper[picture.scene.corner_rows[owner]].mean(axis=0)
                yield Finding(
                    "mark-away", (volume.id,), None if np.isnan(at).any() else (float(at[0]), float(at[1])), 0.0, "mm",
                    tr("{volume}: the {mark} (mark {number}) is not drawn whole. {why}", volume=volume.name,
                       mark=mark_name(volume, mark), number=number, why=lost[number - 1]),
                )  # fmt: skip
            elif not has_place(volume, mark):
                at = picture.paper[picture.scene.corner_rows[owner]].mean(axis=0)
                yield Finding(
                    "mark-away", (volume.id,), None if np.isnan(at).any() else (float(at[0]), float(at[1])), 0.0, "mm",
                    tr("{volume}: the {mark} (mark {number}, on {face}) has no place on the body now and is not drawn. It comes "
                       "back with its face; or change its place, or take it off.", volume=volume.name, number=number,
                       mark=mark.__struct_config__.tag, face=face_name(volume, getattr(mark, "face", 0))),
                )  # fmt: skip


def _crosses_eye_plane(document: Document, picture: Picture) -> Iterator[Finding]:
    depth = picture.camera[:, 2]
    for owner, volume in enumerate(document.volumes):
        own = depth[_rows(picture, owner)]
        behind = int((own <= 0.0).sum())
        if behind == 0:
            continue
        reach = format_length(-float(own.min()), document.unit)
        if behind == len(own):
            text = tr(
                "{volume}: wholly behind the eye (up to {reach}), so it is not drawn.",
                volume=volume.name,
                reach=reach,
            )
        else:
            text = tr(
                "{volume}: reaches {reach} behind the eye plane; only what lies in front is drawn.",
                volume=volume.name,
                reach=reach,
            )
        yield Finding(
            "behind-eye", (volume.id,), None, -float(own.min()), "mm", text + tr(" Step back or move the volume.")
        )


def _off_the_sheet(document: Document, picture: Picture) -> Iterator[Finding]:
    """What is drawn beyond the paper is not on it: told of each volume where it reaches farthest."""
    for found in leaving(document, picture):
        volume = document.volumes[found.row]
        words = tr("{volume}: leaves the sheet by {far} at the {edge}. Fill the sheet, aim at it, or move it.", volume=volume.name,
                   far=format_paper(found.by, document.unit), edge=found.edge)  # fmt: skip
        yield Finding("off-sheet", (volume.id,), found.at, found.by, "mm", words)


def _nearly_flush(document: Document, picture: Picture) -> Iterator[Finding]:
    """Seams that nobody meant print as lines that end in the air."""
    for found in nearly_flush(document.volumes):
        one, other = (document.volume(name).name for name in (found.one, found.other))
        at, _ = picture.eye.project(np.array([found.place]))
        words = tr("{one} and {other} are nearly flush: {gap:.3g} mm are missing. Make them flush, or set them apart.", one=one,
                   other=other, gap=found.gap)  # fmt: skip
        place = None if np.isnan(at).any() else (float(at[0, 0]), float(at[0, 1]))
        yield Finding("nearly-flush", (found.one, found.other), place, found.gap, "mm", words)


def _floating(document: Document, picture: Picture) -> Iterator[Finding]:
    """A volume floats when its lowest point is above the ground and it touches nothing that stands, however far down.

    All copies of a volume stand as soon as one does, and so does what is joined to something that stands. What is meant to
    float is told all the same, quietly, and holds what touches it.
    """
    scene = picture.scene
    if not document.volumes:
        return
    bodies, owner = filled(scene)
    low, high = bounds(bodies)
    present = ~scene.put_away[owner]
    stands = _with_company(document, owner, present & (low[:, 2] <= SAME_PLACE))
    meant = np.array(["floating" in _quiet_of(volume) for volume in document.volumes])[owner]
    stands = _spread(document, (low, high, owner), present, stands)
    hung = present & meant & ~stands
    held = _spread(document, (low, high, owner), present, stands | hung)
    # Of the pieces and copies of one volume the first is told.
    floating = np.flatnonzero((present & ~held) | hung)
    _, first = np.unique(owner[floating], return_index=True)
    for body in floating[first]:
        volume, rows = document.volumes[owner[body]], _rows(picture, owner[body])
        lowest = rows.start + int(np.argmin(scene.vertices[rows, 2]))
        at = picture.paper[lowest]
        gap = float(low[body, 2])
        yield Finding(
            "floating",
            (volume.id,),
            None if np.isnan(at).any() else (float(at[0]), float(at[1])),
            gap,
            "mm",
            tr(
                "{volume}: floats {gap} above the ground and touches nothing that stands. Lower it, "
                "or stand it on another volume.",
                volume=volume.name,
                gap=format_length(gap, document.unit),
            ),
        )


def _with_company(document: Document, owner: Ints, held: Bools) -> Bools:
    """Return which bodies (N,) are held when some are: all of a volume of which one is, and all of what is joined to such a one."""
    standing = {document.volumes[row].id for row in np.unique(owner[held])}
    before = -1
    while len(standing) != before:
        before = len(standing)
        standing |= {v.id for v in document.volumes if v.joined is not None and v.joined.to in standing}
    stands = np.array([volume.id in standing for volume in document.volumes])
    found: Bools = held | stands[owner]
    return found


def _spread(document: Document, bodies: tuple[Floats, Floats, Ints], present: Bools, held: Bools) -> Bools:
    """Return which bodies (N,) are held in the end: those that are, what touches them, from whichever side, and so on."""
    low, high, owner = bodies
    frontier = np.flatnonzero(held & present)
    while len(frontier):
        left = np.flatnonzero(present & ~held)
        reached = np.zeros(len(left), dtype=bool)
        for some in np.array_split(frontier, 1 + len(frontier) * len(left) // _AT_A_TIME):
            touching = np.ones((len(some), len(left)), dtype=bool)
            for axis in range(3):
                touching &= low[some, None, axis] <= high[left, axis] + SAME_PLACE
                touching &= low[left, axis] <= high[some, None, axis] + SAME_PLACE
            reached |= touching.any(axis=0)
        now = held.copy()
        now[left[reached]] = True
        now = _with_company(document, owner, now)
        frontier, held = np.flatnonzero(now & ~held & present), now
    return held


def _goes_along(one: Volume, other: Volume) -> bool:
    return one.joined is not None and one.joined.to == other.id


def _is_one_thing(document: Document, one: Volume, other: Volume) -> bool:
    """Whether two volumes are parts of one thing: of one group, or one goes along with the other, through others too."""
    if one.group and one.group == other.group:
        return True
    return other.id in _ancestors(document, one) or one.id in _ancestors(document, other)


def _ancestors(document: Document, volume: Volume) -> set[str]:
    found: set[str] = set()
    while volume.joined is not None and volume.joined.to not in found:
        found.add(volume.joined.to)
        volume = document.volume(volume.joined.to)
    return found


def _sharing_space(document: Document, picture: Picture) -> Iterator[Finding]:
    bodies, owner = filled_space(picture)
    if len(owner) < 2:
        return
    low, high = bounds(bodies)
    pairs = pairs_within_reach(low, high, owner, _MOST_PAIRS)
    # A wheel in its body: joined so, or grouped, the overlap is meant.
    kinds, number = np.unique(owner[pairs], axis=0, return_inverse=True)
    apart = [not _is_one_thing(document, *(document.volumes[row] for row in rows)) for rows in kinds]
    pairs = pairs[np.array(apart, dtype=bool)[number.reshape(-1)]] if len(pairs) else pairs
    depths = overlap_depths(bodies, pairs)
    deepest: dict[tuple[int, int], tuple[float, int, int]] = {}
    for (i, j), depth in zip(pairs[depths > 0.0], depths[depths > 0.0], strict=True):
        # A turned body is many pieces: what is told is where two volumes are deepest in each other.
        key = (int(min(owner[i], owner[j])), int(max(owner[i], owner[j])))
        deepest[key] = max(deepest.get(key, (0.0, 0, 0)), (float(depth), int(i), int(j)))
    for rows, (depth, i, j) in deepest.items():
        one, other = (document.volumes[row] for row in rows)
        # The middle of the space that both bounds cover is where the pencil should look.
        middle = (np.maximum(low[i], low[j]) + np.minimum(high[i], high[j])) / 2.0
        if is_carved(one) or is_carved(other):  # the pieces fill what openings leave free: their shells know
            shared = _by_shells(document, one, other)
            if shared is not None and shared[0] <= 0.0:
                continue
            depth, middle = (depth, middle) if shared is None else shared
        paper, _ = picture.eye.project(middle)
        yield Finding(
            "sharing-space",
            (one.id, other.id),
            None if np.isnan(paper).any() else (float(paper[0, 0]), float(paper[0, 1])),
            depth,
            "mm",
            tr(
                "{one} and {other} share space, {depth} deep. Move one of them, or make the outer one see-through.",
                one=one.name,
                other=other.name,
                depth=format_length(depth, document.unit),
            ),
        )


def _by_shells(document: Document, one: Volume, other: Volume) -> tuple[float, Floats] | None:
    """Return how deep and where two volumes share space by their shells, None where these do not tell."""
    from isometron.volumes.shells.shared_space import common_space  # a heavy library

    return common_space(one, other, {volume.id: volume for volume in document.volumes})


def _missing_targets(document: Document, picture: Picture) -> Iterator[Finding]:
    """What is meant and not so: told at the first volume that the target names."""
    for target, found in zip(document.targets, targets_met(document), strict=True):
        if isinstance(found, str):
            yield Finding("target-unclear", (), None, 0.0, "mm", tr("{text}: {why}", text=target.text, why=found))
            continue
        if found.is_met:
            continue
        least = mending(document, target)
        words = tr(
            "Meant: {text}. Drawn {drawn}, meant {meant}.", text=target.text,
            drawn=format_length(round(found.drawn, 2), document.unit), meant=format_length(round(found.meant, 2), document.unit),
        )  # fmt: skip
        if least is not None:
            words += tr(" Smallest change: {what} of {volume} to {new}.", what=least.drives, volume=least.name,
                        new=format_length(round(least.new, 2), document.unit))  # fmt: skip
        yield Finding(
            "target-missed",
            found.volumes,
            _place_of(found, document, picture),
            found.drawn - found.meant,
            "mm",
            words,
        )


def _place_of(found: Met, document: Document, picture: Picture, *, below: bool = False) -> tuple[float, float] | None:
    """Return where a target is told on paper: in the middle of the first volume it names, or at its lower end."""
    row = document.index_of(found.volumes[0]) if found.volumes else None
    if row is None:
        return None
    paper = picture.paper[picture.scene.corner_rows[row]]
    u, v = paper.mean(axis=0)
    return None if np.isnan(paper).any() else (float(u), float(paper[:, 1].min() if below else v))


def missed_targets(document: Document, picture: Picture) -> list[tuple[float, float, str]]:
    """Return place (mm on paper, under the volume) and words of every target that is missed."""
    told = []
    for found in targets_met(document) if document.targets else []:
        if isinstance(found, str) or found.is_met:
            continue
        at = _place_of(found, document, picture, below=True)
        if at is not None:
            drawn, meant = (format_length(round(v, 2), document.unit) for v in (found.drawn, found.meant))
            told.append((*at, f"{found.target.text}: {drawn} {_NOT[found.sign]} {meant}"))
    return told


CHECKS: tuple[Callable[[Document, Picture], Iterator[Finding]], ...] = (
    _outside_cone,
    _eye_inside,
    _uncut,
    _unopened,
    _doubtful,
    _marks_away,
    _unsectioned,
    _crosses_eye_plane,
    _off_the_sheet,
    _floating,
    _nearly_flush,
    _sharing_space,
    _missing_targets,
)
"""The checks in the order in which they are listed; a new check is one line here."""
