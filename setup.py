"""Compile the loops that a frame is made of; where there is no compiler they run as the Python they are."""

from Cython.Build import cythonize
from setuptools import Extension, setup

LOOPS = ("shadow_loops", "sight")

setup(
    ext_modules=cythonize(
        [
            Extension(f"isometron.geometry.{name}", [f"src/isometron/geometry/{name}.py"], optional=True)
            for name in LOOPS
        ],
        build_dir="build",
    )
)
