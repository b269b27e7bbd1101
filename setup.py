"""Compile the loops that a frame is made of; where there is no compiler they run as the Python they are."""

import os
import sys

from Cython.Build import cythonize
from setuptools import Extension, setup
from setuptools.command.build_ext import build_ext
from setuptools.errors import BaseError, CompileError, LinkError

LOOPS = (
    "geometry/chain_loops",
    "geometry/clip_loops",
    "geometry/coincident_loops",
    "geometry/faces/slab_loops",
    "geometry/frustum_loops",
    "geometry/own_side_loops",
    "geometry/piece_loops",
    "geometry/shadow_loops",
    "geometry/sight/behind_bodies",
    "geometry/sight/behind_faces",
    "geometry/sight/behind_frusta",
    "geometry/sight/curve",
    "geometry/sight/hider_grid",
    "geometry/sight/sight",
    "geometry/turning_loops",
    "surfaces/raster_loops",
    "surfaces/stroke_loops",
)

# Products and sums are rounded one by one, so that every machine draws the same.
EXACT = ["-g0", "-ffp-contract=off", "-fno-math-errno", "-fno-trapping-math"]


def optimised(name: str) -> list[str]:
    """Pixels are worth what the compiler takes to make vectors of their loops; geometry runs as fast without."""
    return [*EXACT, "-O3" if name.startswith("surfaces/") else "-O2"]


class BuiltWherePossible(build_ext):
    """Builds all of the loops or none: a missing compiler is told, and is no reason to stop."""

    def finalize_options(self) -> None:
        super().finalize_options()
        self.parallel = True

    def run(self) -> None:
        try:
            super().run()
        except (BaseError, CompileError, LinkError, OSError) as error:
            print(f"The loops were not compiled and will run as Python, slowly: {error}", file=sys.stderr)
            self.extensions = []


def extensions() -> list[Extension]:
    """Return the loops; none where ``./run`` has made them already, in place."""
    if os.environ.get("ISOMETRON_LOOPS") == "made":
        return []
    made: list[Extension] = cythonize(
        [
            Extension(
                f"isometron.{name.replace('/', '.')}",
                [f"src/isometron/{name}.py"],
                extra_compile_args=optimised(name),
            )
            for name in LOOPS
        ],
        build_dir="build",
        nthreads=min(os.cpu_count() or 1, len(LOOPS)),
    )
    return made


setup(cmdclass={"build_ext": BuiltWherePossible}, ext_modules=extensions())
