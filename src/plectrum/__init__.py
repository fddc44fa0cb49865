"""Plectrum plans bow direction and bow distribution for string teachers.

For scripts: `plectrum.read`, `choose`, `pin`, `plan`, `export`, `save` and some more, told in
`plectrum.interface`. They are loaded when they are first asked for.
"""

TYPE_CHECKING = False  # to checkers it is true; nothing is loaded before `__main__` has its say
if TYPE_CHECKING:
    from plectrum.interface import *  # noqa: F403

__version__ = "0.2.0"


def __getattr__(name: str) -> object:
    if not name.startswith("_"):
        from importlib import import_module

        interface = import_module("plectrum.interface")
        if name in interface.__all__:
            return getattr(interface, name)
    raise AttributeError(f"module 'plectrum' has no attribute {name!r}")


def __dir__() -> list[str]:
    from importlib import import_module

    return [*import_module("plectrum.interface").__all__, "__version__"]
