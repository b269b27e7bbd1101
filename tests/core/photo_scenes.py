"""Photographs with known truth, made at random: python -m tests.core.photo_scenes [COUNT] [FIRST SEED] tells how the match fares on them.

Nothing of the program's own geometry is used: boxes and rings on a ground, an eye, a lens, a hand's noise.
"""

import sys
from collections import defaultdict

import numpy as np

from isometron.match.answer import matched
from isometron.match.marks import LineMark, MarksError, PictureMarks, RingOnPicture

KINDS = ("two-point", "three-point", "near one-point", "bent", "cut out", "rings", "rings tilted", "rings cut out")
NOISES = (1.0, 3.0)
WIDE, HIGH = 1600, 1200
_NAMES = ("long", "wide", "high")


class Scene:
    """The marks of a photograph, and what is true of it: focal length and horizon in px, sizes of each box."""

    def __init__(self, seed):
        dice = self._dice = np.random.default_rng(seed)
        self.kind, self.noise = KINDS[seed % len(KINDS)], NOISES[seed // len(KINDS) % len(NOISES)]
        self.focal = WIDE * dice.uniform(0.8, 2.0)
        tilted = self.kind in ("three-point", "rings tilted", "bent")
        self._pitch = np.radians(dice.uniform(-35.0, -10.0)) if tilted else 0.0
        self._roll = np.radians(dice.uniform(-3.0, 3.0)) if tilted else 0.0
        self._bend = dice.choice([-1.0, 1.0]) * dice.uniform(0.05, 0.2) if self.kind == "bent" else 0.0
        middle = np.array([(WIDE - 1) / 2.0, (HIGH - 1) / 2.0])
        cut = "cut out" in self.kind
        self._centre = middle + (dice.uniform(-0.25, 0.25, 2) * [WIDE, HIGH] if cut else 0.0)
        self.sizes, self.lines, self.rings = {}, [], []
        one_point = self.kind == "near one-point"
        turn = np.radians(dice.uniform(-4.0, 4.0) if one_point else dice.choice([-1, 1]) * dice.uniform(20.0, 70.0))
        self._lay("crate", "crate/base", turn, 0.0, -0.05)
        self._lay("crate", "crate/top", turn, 0.25, 0.05)
        self._lay("tin", "tin/body", turn + np.radians(dice.uniform(10.0, 80.0)), 0.0, -0.25)
        if "rings" in self.kind:
            self._lay_rings(0.25)
        self.marks = PictureMarks(
            width=WIDE, height=HIGH, whole=not cut, lines=tuple(self.lines), rings=tuple(self.rings)
        )

    def picture(self, places):
        """Pixels (N, 2) of places (N, 3) about the eye: x right, y ahead, z up, before the noise; None where one is out of the picture."""
        sp, cp = np.sin(self._pitch), np.cos(self._pitch)
        look, up = np.array([0.0, cp, sp]), np.array([0.0, -sp, cp])
        right = np.array([1.0, 0.0, 0.0])
        sr, cr = np.sin(self._roll), np.cos(self._roll)
        right, up = cr * right - sr * up, cr * up + sr * right
        depth = places @ look
        x, y = places @ right / depth, places @ up / depth
        bent = 1.0 + self._bend * (x * x + y * y)
        pixels = self._centre + self.focal * np.column_stack([x * bent, -y * bent])
        inside = (depth > 0.1) & (pixels > 0.0).all(axis=1) & (pixels < [WIDE - 1.0, HIGH - 1.0]).all(axis=1)
        return pixels if inside.all() else None

    def horizon(self, x):
        """How high, px from the top, the horizon is at x, as it would be without the bend."""
        slope = np.tan(self._roll)
        # Ahead and level is seen f tan(pitch) from the centre, along the rolled upright.
        down = self.focal * np.tan(self._pitch)
        foot = self._centre + down * np.array([np.sin(self._roll), np.cos(self._roll)])
        return foot[1] - (x - foot[0]) * slope

    def _spot(self, lift, aside):
        """A place in the picture's lower middle, ``lift`` of the distance over the ground."""
        far = self._dice.uniform(4.0, 6.0)
        sight = np.array([aside, 1.0, np.tan(self._pitch) - 0.25])
        return far * sight + np.array([0.0, 0.0, lift * far * 0.5])

    def _lay(self, thing, name, turn, lift, aside):
        dice = self._dice
        for _ in range(400):
            size = dice.uniform(0.5, 1.8, 3)
            corner = self._spot(lift, aside + dice.uniform(-0.2, 0.2))
            ways = np.array([[np.cos(turn), np.sin(turn), 0.0], [-np.sin(turn), np.cos(turn), 0.0], [0.0, 0.0, 1.0]])
            ends = np.array([[i, j, k] for i in (0, 1) for j in (0, 1) for k in (0, 1)])
            if self.picture(corner + (ends * size) @ ways) is not None:
                break
        else:
            return
        self.sizes[name] = dict(zip(_NAMES, size.tolist(), strict=True))
        # A face is seen when the eye, the origin, lies before it.
        seen = {
            (axis, end): (corner + end * size[axis] * ways[axis]) @ ways[axis] * (1 if end else -1) < 0.0
            for axis in range(3)
            for end in (0, 1)
        }
        for axis in range(3):
            one, two = (k for k in range(3) if k != axis)
            for a in (0, 1):
                for b in (0, 1):
                    if seen[one, a] or seen[two, b]:
                        start = corner + a * size[one] * ways[one] + b * size[two] * ways[two]
                        both = self.picture(np.array([start, start + size[axis] * ways[axis]]))
                        points = self._by_hand(both)
                        self.lines.append(
                            LineMark(object=thing, along=_NAMES[axis], points=points, box=name, edge=f"{a}{b}")
                        )

    def _lay_rings(self, aside):
        dice, turns = self._dice, np.linspace(0.0, 2.0 * np.pi, 9, endpoint=False)
        foot = self._spot(0.0, aside)
        for level in np.cumsum(dice.uniform(0.1, 0.6, 4)):
            radius = dice.uniform(0.2, 0.6)
            circle = np.column_stack([np.cos(turns), np.sin(turns), np.zeros(9)]) * radius
            points = self.picture(circle + np.array([*foot[:2], foot[2] + level]))
            if points is not None:
                self.rings.append(
                    RingOnPicture(points=self._by_hand(points), object="tin", square_to="high", axle="axle")
                )

    def _by_hand(self, points):
        return tuple(map(tuple, (points + self._dice.normal(0.0, self.noise, points.shape)).tolist()))


def figures(scene, answer):
    """Each figure that an answer tells, with the truth."""
    yield answer.focal, scene.focal
    for figure, x in zip(answer.horizon, (0.0, WIDE - 1.0), strict=True):
        yield figure, scene.horizon(x)
    for name, ratios in answer.ratios.items():
        for key, figure in ratios.items():
            one, other = key.split("/")
            yield figure, scene.sizes[name][one] / scene.sizes[name][other]


def judged(seed):
    """Kind and noise of a scene, and of its match: how far the focal length is off, whether it is told as known, which figures hold the
    truth, and how many right marks are blamed; None where the marks are refused."""
    scene = Scene(seed)
    try:
        answer = matched(scene.marks)
    except MarksError:
        return scene, None
    told = [(figure, truth) for figure, truth in figures(scene, answer) if np.isfinite(figure.pm95)]
    inside = [abs(figure.value - truth) <= figure.pm95 * (1.0 + 1e-9) for figure, truth in told]
    return scene, (abs(answer.focal.value / scene.focal - 1.0), answer.focal.known, inside, len(answer.contradicting))


def main():
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 300
    first = int(sys.argv[2]) if len(sys.argv) > 2 else 0
    rows = defaultdict(list)
    for seed in range(first, first + count):
        scene, result = judged(seed)
        rows[scene.kind, scene.noise].append(result)
    every, blamed = [], 0
    for (kind, noise), results in sorted(rows.items()):
        kept = [r for r in results if r is not None]
        off = [r[0] for r in kept if r[1]]
        inside = [hit for r in kept for hit in r[2]]
        every += inside
        blamed += sum(r[3] > 0 for r in kept)
        worst = f"{100 * np.median(off):5.1f} / {100 * max(off):5.1f} %" if off else "    -"
        print(f"{kind:16} {noise:.0f} px  {len(results):3} scenes, {len(off):3} known, focal length off {worst}, inside {np.mean(inside):.3f}, "
              f"accused {sum(r[3] > 0 for r in kept)}")  # fmt: skip
    print(
        f"{np.mean(every):.3f} of {len(every)} figures hold the truth; right marks accused in {blamed} of {count} scenes"
    )


if __name__ == "__main__":
    main()
