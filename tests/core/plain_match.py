"""The plain method that a match is held against: least squares on marked lines, the centre of vision in the picture's middle.

python -m tests.core.plain_match [COUNT] [FIRST SEED]     both on the same random scenes, class by class
"""

import sys
from collections import defaultdict

import numpy as np
from scipy.optimize import least_squares

from tests.core.photo_scenes import HIGH, WIDE, judged

WAYS = {"long": 0, "wide": 1, "high": 2}
MIDDLE = np.array([(WIDE - 1) / 2.0, (HIGH - 1) / 2.0])


def plain_focal(marks):
    """The focal length, px, that leaves the ends of marked lines nearest to the lines from their middles to their vanishing points."""
    things = sorted({line.object for line in marks.lines})
    ends = [np.array(line.points)[[0, -1]] - MIDDLE for line in marks.lines]

    def misfits(x):
        focal, (sp, cp), (sr, cr) = (
            np.exp(np.clip(x[0], 4.0, 12.0)),
            (np.sin(x[1]), np.cos(x[1])),
            (np.sin(x[2]), np.cos(x[2])),
        )
        look, up, right = np.array([0.0, cp, sp]), np.array([0.0, -sp, cp]), np.array([1.0, 0.0, 0.0])
        axes, found = np.stack([cr * right - sr * up, cr * up + sr * right, look]), []
        for line, points in zip(marks.lines, ends, strict=True):
            turn = x[3 + things.index(line.object)]
            ways = np.array([[np.cos(turn), np.sin(turn), 0.0], [-np.sin(turn), np.cos(turn), 0.0], [0.0, 0.0, 1.0]])
            seen = axes @ ways[WAYS[line.along]]
            middle = points.mean(axis=0)
            way = np.array([focal * seen[0], -focal * seen[1]]) - middle * seen[2]
            across = np.array([-way[1], way[0]]) / max(float(np.hypot(*way)), 1e-9)
            found += ((points - middle) @ across).tolist()
        return np.array(found)

    starts = [
        [np.log(1800.0), -0.15, 0.0, *(turn + 0.6 * k for k in range(len(things)))]
        for turn in np.radians([-60, -30, 5, 30, 60])
    ]
    best = min((least_squares(misfits, start, max_nfev=40) for start in starts), key=lambda fit: fit.cost)
    return float(np.exp(best.x[0]))


def main():
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 160
    first = int(sys.argv[2]) if len(sys.argv) > 2 else 0
    rows = defaultdict(list)
    for seed in range(first, first + count):
        scene, result = judged(seed)
        if result is not None and result[1]:
            rows[scene.kind, scene.noise].append((result[0], abs(plain_focal(scene.marks) / scene.focal - 1.0)))
    for (kind, noise), both in sorted(rows.items()):
        (ours, plain), (worst, plain_worst) = np.median(both, axis=0), np.max(both, axis=0)
        print(f"{kind:16} {noise:.0f} px  {len(both):3} known: focal length off {100 * ours:5.1f} / {100 * worst:5.1f} %, "
              f"by the plain method {100 * plain:5.1f} / {100 * plain_worst:5.1f} %")  # fmt: skip


if __name__ == "__main__":
    main()
