"""Builds the inner loops; where there is no compiler the program is set up without them."""

from Cython.Build import cythonize
from setuptools import Extension, setup

LOOPS = (
    "plectrum.core.planning.strokes._compiled",
    "plectrum.core.planning.contact._compiled",
    "plectrum.core.sound._compiled",
)

setup(
    ext_modules=cythonize(
        [
            Extension(
                name,
                [f"src/{name.replace('.', '/')}.pyx"],
                extra_compile_args=["-O3", "-ffp-contract=off"],
                optional=True,
            )
            for name in LOOPS
        ],
        build_dir="build",
    )
)
