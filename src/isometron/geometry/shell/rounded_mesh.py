"""The triangles of a body with rounded edges: what the rounds leave of its faces, the rounds themselves, the balls in corners."""

from __future__ import annotations

from collections.abc import Sequence
from math import pi

import numpy as np

from isometron.geometry.faces.rolled_edges import EdgeError, RolledEdge, RolledEdges, no_room
from isometron.geometry.frames import Floats, Ints
from isometron.geometry.outlines import signed_area
from isometron.geometry.shell.parts import Meshed, round_frame
from isometron.geometry.shell.rims import Rims
from isometron.geometry.shell.shell import Shell
from isometron.geometry.shell.surfaces import PLANE, Surfaces, cross, length
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.wording import tr

__all__ = ["RoundedMesh"]

_SAME = 1e-9
_STEPS = 12
_WHOLE = 1.9 * pi
Key = tuple[int, int]


class RoundedMesh:
    """The triangles of a body with rounded edges, its rounds parted at some angles.

    rounds, balls : the numbers that triangles of rounds, by edge, and balls, by corner, get; turn : angles of each edge from its first face's normal.
    Raises `EdgeError` where a round finds no room.
    """

    def __init__(
        self,
        shell: Shell,
        rims: Rims,
        plan: RolledEdges,
        rounds: dict[Key, int],
        balls: dict[int, int],
        turn: dict[Key, Floats],
    ) -> None:
        self.shell, self.rims, self.plan, self.turn = shell, rims, plan, turn
        self.rounds, self.balls = rounds, balls
        self.places: list[Floats] = list(shell.places)
        self.rows: list[Ints] = []
        self.patch: list[Ints] = []
        self.touch: dict[tuple[int, int], int] = {}
        self.ends: dict[tuple[Key, int], list[int]] = {}
        for edge in self.plan.edges.values():
            self.plan.audit(edge, turn[edge.a, edge.b])
        for corner, edges in self.plan.at.items():
            self._end(corner, edges)
        self.dropped = self._dropped()

    def done(self) -> Meshed:
        """Return them."""
        shell, plan = self.shell, self.plan
        touched = {face for corner in plan.at for face in plan.mesh.faces_at[corner]}
        for face in range(len(shell.patch_surface)):
            if face in touched:
                self._face(face)
            else:
                self._add(shell.rows[shell.patch == face], face)
        for edge in plan.edges.values():
            self._strips(edge)
        for corner in self.balls:
            self._ball(corner)
        rows = np.concatenate(self.rows)
        used, rows = np.unique(rows, return_inverse=True)
        return Meshed(np.array(self.places)[used], rows.reshape(-1, 3), np.concatenate(self.patch))

    def _add(self, rows: Ints, patch: int) -> None:
        rows = rows[(rows[:, 0] != rows[:, 1]) & (rows[:, 1] != rows[:, 2]) & (rows[:, 2] != rows[:, 0])]
        self.rows.append(rows)
        self.patch.append(np.full(len(rows), patch))

    def _new(self, places: Floats) -> list[int]:
        first = len(self.places)
        self.places.extend(places)
        return list(range(first, len(self.places)))

    # --- where rounds end -------------------------------------------------------------------------------------------

    def _end(self, corner: int, edges: list[RolledEdge]) -> None:
        one = edges[0]
        if len(edges) == 1:
            self.ends[(one.a, one.b), corner] = self._end_alone(corner, one)
        elif len(edges) == 2:
            two = edges[1]
            chain = self._new(one.ended(self.turn[one.a, one.b], corner)[0])
            shared = one.f if one.f in (two.f, two.g) else one.g
            self.touch[corner, shared] = chain[0 if shared == one.f else -1]
            self.ends[(one.a, one.b), corner] = chain
            same = (shared == one.f) is (shared == two.f)
            self.ends[(two.a, two.b), corner] = chain if same else chain[::-1]
        else:
            for face in self.plan.mesh.faces_at[corner]:
                self.touch[corner, face] = self._new(self.plan.touched(corner, face)[None])[0]
            for edge in edges:
                inner = self._new(edge.ended(self.turn[edge.a, edge.b][1:-1], corner)[0])
                chain = [self.touch[corner, edge.f], *inner, self.touch[corner, edge.g]]
                self.ends[(edge.a, edge.b), corner] = chain

    def _end_alone(self, corner: int, edge: RolledEdge) -> list[int]:
        turn = self.turn[edge.a, edge.b]
        if edge.radius_at(corner) <= CLOSE:
            return [corner] * len(turn)
        shell = self.shell
        third = next(face for face in self.plan.mesh.faces_at[corner] if face not in (edge.f, edge.g))
        places = edge.ended(turn, corner)[0]
        row = int(shell.patch_surface[third])
        if shell.surfaces.kind[row] != PLANE:
            one, two = edge.lines(turn)
            places = _met(shell.surfaces, row, places, two - one, edge)
        return self._new(places)

    def _dropped(self) -> set[int]:
        """Return the places on sides of faces that the rounds take: on the edges themselves, and on what meets them where it begins."""
        found = set(self.plan.at)
        rounded = {frozenset((edge.f, edge.g)) for edge in self.plan.edges.values()}
        for face, (loops, past) in enumerate(zip(self.rims.places, self.rims.beyond, strict=True)):
            for loop, beyond in zip(loops, past, strict=True):
                for k, place in enumerate(loop):
                    if beyond[k] == beyond[k - 1] and frozenset((face, beyond[k])) in rounded:
                        found.add(place)  # between corners that are both rounded: of edges that are not, faces differ
                    if place in self.plan.at:
                        self._drop_along(face, loop, beyond, k, 1, found)
                        self._drop_along(face, loop, beyond, k, -1, found)
        return found

    def _drop_along(
        self, face: int, loop: Sequence[int], beyond: Sequence[int], k: int, step: int, found: set[int]
    ) -> None:
        """Add what lies on a side of a face from a corner on before the round that ends there ends."""
        corner = loop[k]
        other = beyond[k if step > 0 else k - 1]
        if any({face, other} == {edge.f, edge.g} for edge in self.plan.at[corner]):
            return
        end = self._met_side(corner, face, other)
        if end == corner:
            return
        far = float(length(self.places[end] - self.places[corner]))
        count = len(loop)
        for n in range(1, count):
            at = (k + step * n) % count
            if loop[at] != end and float(length(self.places[loop[at]] - self.places[corner])) > far - HAIR:
                return
            side = at if step > 0 else at - 1
            if beyond[side] != other:
                raise no_room(self.plan.at[corner])
            found.add(loop[at])

    def _met_side(self, corner: int, face: int, other: int) -> int:
        """Return the place at which a side between two faces begins, now that a round ends at its corner."""
        edges = self.plan.at[corner]
        for own in (face, other):
            if (corner, own) not in self.touch:
                mine = [edge for edge in edges if own in (edge.f, edge.g)]
                if mine:
                    return self._side_end(mine[0], corner, own)
        raise no_room(edges)

    def _side_end(self, edge: RolledEdge, corner: int, face: int) -> int:
        return self.ends[(edge.a, edge.b), corner][0 if face == edge.f else -1]

    # --- faces ------------------------------------------------------------------------------------------------------

    def _face(self, face: int) -> None:
        """Add what the rounds leave of a face."""
        rims, loops = self.rims, []
        for loop, beyond in zip(rims.places[face], rims.beyond[face], strict=True):
            ring: list[int] = []
            for k, place in enumerate(loop):
                if place in self.plan.at:
                    ring += self._chain(face, place, beyond[k - 1])
                elif place not in self.dropped:
                    ring.append(place)
            loops.append([place for n, place in enumerate(ring) if place != ring[n - 1]])
        self._add(self._triangles(face, loops), face)

    def _chain(self, face: int, corner: int, before: int) -> list[int]:
        """Return what stands in a face's loop in place of a corner that it comes to along the face ``before``."""
        edges = self.plan.at[corner]
        if (corner, face) in self.touch:
            return [self.touch[corner, face]]
        mine = [edge for edge in edges if face in (edge.f, edge.g)]
        if mine:
            return [self._side_end(mine[0], corner, face)]
        chain = self.ends[(edges[0].a, edges[0].b), corner]
        return chain if before == edges[0].f else chain[::-1]

    def _triangles(self, face: int, loops: Sequence[Sequence[int]]) -> Ints:
        import manifold3d
        import shapely

        flat = [self._flat(face, np.array([self.places[k] for k in loop])) for loop in loops]
        edges = [
            edge
            for corner in self.plan.at
            for edge in self.plan.at[corner]
            if face in self.plan.mesh.faces_at[corner]
        ]
        area = [float(signed_area(ring)) for ring in flat]
        if sum(area) < 0.0:  # a round side unrolled from within
            flat, area = [ring * (-1.0, 1.0) for ring in flat], [-a for a in area]
        outer = int(np.argmax(area))
        whole = shapely.Polygon(flat[outer], [ring for k, ring in enumerate(flat) if k != outer])
        if not whole.is_valid or whole.area <= HAIR * whole.length:
            raise no_room(edges)
        found = np.asarray(manifold3d.triangulate(flat), dtype=np.intp).reshape(-1, 3)
        numbers = np.array([place for loop in loops for place in loop], dtype=np.intp)
        return numbers[found]

    def _flat(self, face: int, places: Floats) -> Floats:
        """Return places (K, 3) on a face as they lie on it unrolled (K, 2)."""
        shell = self.shell
        row = int(shell.patch_surface[face])
        if shell.surfaces.kind[row] == PLANE:
            normal = shell.surfaces.form[row, 3:6] * shell.patch_sign[face]
            x = np.eye(3)[int(np.abs(normal).argmin())]
            x = cross(normal, x)
            x = x / length(x)
            off = places - shell.surfaces.form[row, :3]
            return np.column_stack([off @ x, off @ cross(normal, x)])
        middle, first, second = round_frame(shell.surfaces, row)
        off = places - middle
        own = shell.places[np.unique(shell.rows[shell.patch == face])] - middle

        def angle(ways: Floats, start: float) -> Floats:
            turned = np.arctan2(ways @ second / (second @ second), ways @ first / (first @ first))
            found: Floats = (turned - start) % (2.0 * pi)
            return found

        about = np.sort(angle(own, 0.0))
        gaps = np.diff(np.append(about, about[0] + 2.0 * pi))
        widest = int(gaps.argmax())
        if 2.0 * pi - gaps[widest] > _WHOLE or not shell.surfaces.cylinders[row]:
            corner = next(corner for corner in self.plan.at if face in self.plan.mesh.faces_at[corner])
            raise EdgeError(
                self.plan.at[corner][-1].number, tr("This edge ends at a side that goes all round: leave it sharp.")
            )
        start = float(about[widest] + gaps[widest] / 2.0)
        wide = float(max(length(first), length(second)))
        return np.column_stack([wide * angle(off, start), off @ shell.surfaces.axles[row]])

    # --- rounds and balls -------------------------------------------------------------------------------------------

    def _strips(self, edge: RolledEdge) -> None:
        one, two = (np.array(self.ends[(edge.a, edge.b), corner]) for corner in (edge.a, edge.b))
        a, b, c, d = one[:-1], one[1:], two[1:], two[:-1]
        rows = np.concatenate([np.column_stack([a, b, c]), np.column_stack([a, c, d])])
        self._add(rows, self.rounds[edge.a, edge.b])

    def _ball(self, corner: int) -> None:
        plan = self.plan
        edges, middle = plan.at[corner], plan.middles[corner]
        radius = edges[0].radius_at(corner)
        faces = plan.mesh.faces_at[corner]
        tips = {face: plan.normal(face) for face in faces}
        top = sum(tips.values(), np.zeros(3))
        top = top / length(top)
        one, two, three = faces
        if float(cross(tips[two] - tips[one], tips[three] - tips[one]) @ top) < 0.0:
            one, two, three = one, three, two
        rim: list[int] = []
        for here, there in ((one, two), (two, three), (three, one)):
            edge = next(e for e in edges if {e.f, e.g} == {here, there})
            chain = self.ends[(edge.a, edge.b), corner]
            rim += (chain if edge.f == here else chain[::-1])[:-1]
        looks = (np.array([self.places[k] for k in rim]) - middle) / radius
        steps = max(len(rim) // 6, 1)
        rings = [np.array(rim)]
        for n in range(1, steps):
            rings.append(np.array(self._new(middle + radius * _towards(looks, top, n / steps))))
        tip = self._new((middle + radius * top)[None])[0]
        rows = []
        for low, high in zip(rings, [*rings[1:], np.full(len(rim), tip)], strict=True):
            after, above = np.roll(low, -1), np.roll(high, -1)
            rows += [np.column_stack([low, after, above]), np.column_stack([low, above, high])]
        self._add(np.concatenate(rows), self.balls[corner])


def _towards(looks: Floats, top: Floats, part: float) -> Floats:
    """Return unit ways (K, 3) turned by a part of their angle to another one (Shoemake 1985)."""
    angle = np.arccos(np.clip(looks @ top, -1.0, 1.0))[:, None]
    found: Floats = (np.sin((1.0 - part) * angle) * looks + np.sin(part * angle) * top) / np.sin(angle)
    return found


def _met(surfaces: Surfaces, row: int, places: Floats, ways: Floats, edge: RolledEdge) -> Floats:
    """Return where lines (K,) through places (K, 3) meet a surface, by Newton's method; raises `EdgeError` where they do not."""
    found, rows = places.copy(), np.full(len(places), row)
    for _ in range(_STEPS):
        f, slope = surfaces.at(rows, found)
        if np.abs(f).max() < _SAME:
            return found
        along = np.einsum("nk,nk->n", slope, ways)
        along = np.where(np.abs(along) < CLOSE, np.inf, along)
        found = found - (f / along)[:, None] * ways
    raise no_room([edge])
