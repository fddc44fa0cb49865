"""Builds the inner loops; where there is no compiler the program is set up without them."""

from Cython.Build import cythonize
from setuptools import Extension, setup

LOOPS = (
    "plectrum.core.planning.strokes._compiled",
    "plectrum.core.planning.contact._compiled",
    "plectrum.core.sound._compiled",
)

loops = cythonize(
    [
        Extension(
            name,
            [f"src/{name.replace('.', '/')}.pyx"],
            extra_compile_args=["-O3", "-ffp-contract=off"],
        )
        for name in LOOPS
    ],
    build_dir="build",
)
for loop in loops:
    loop.optional = True  # said of what comes out: what goes in is not handed on

setup(ext_modules=loops)
