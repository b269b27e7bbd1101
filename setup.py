"""Compile the loops that a frame is made of; where there is no compiler they run as the Python they are."""

from Cython.Build import cythonize
from setuptools import Extension, setup

LOOPS = (
    "geometry/coincident_loops",
    "geometry/piece_loops",
    "geometry/shadow_loops",
    "geometry/sight",
    "geometry/turning_loops",
    "surfaces/stroke_loops",
)

# Products and sums are rounded one by one, so that every machine draws the same.
EXACT = ["-O3", "-ffp-contract=off"]

setup(
    ext_modules=cythonize(
        [
            Extension(
                f"isometron.{name.replace('/', '.')}",
                [f"src/isometron/{name}.py"],
                extra_compile_args=EXACT,
                optional=True,
            )
            for name in LOOPS
        ],
        build_dir="build",
    )
)
