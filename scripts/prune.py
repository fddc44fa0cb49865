"""Takes out of an environment what Plectrum never uses: of the toolkit's 650 MB some 100 stay.

    python scripts/prune.py [ENVIRONMENT]      .venv if none is named

Sound needs no plugin: films, which nobody shows here, would. What stays is named here; all else of
the toolkit's package goes. A window that starts, sounds and prints, and the tests, which run on a
pruned environment, show that nothing is missing.
"""

from __future__ import annotations

import shutil
import sys
from collections.abc import Iterator
from fnmatch import fnmatch
from pathlib import Path

# Modules: what the application imports, what these import, and Pdf and Test, which tests need.
MODULES = (
    "Core", "DBus", "Gui", "Multimedia", "Network", "Pdf", "PrintSupport", "Svg", "Test", "Widgets",
)  # fmt: skip
LIBRARIES = (
    *(f"libQt6{name}.so.6" for name in (*MODULES, "Concurrent", "OpenGL", "XcbQpa")),
    "libQt6Wayland*Client*.so.6", "libQt6WlShellIntegration.so.6", "libicu*.so.*",
)  # fmt: skip
PLUGINS = (
    "iconengines/*", "imageformats/libq[gjs]*", "platforminputcontexts/lib[ci]*",
    "platforms/libqminimal.so", "platforms/libqoffscreen.so", "platforms/libqwayland.so",
    "platforms/libqxcb.so", "platformthemes/*", "printsupport/*", "wayland-decoration-client/*",
    "wayland-graphics-integration-client/*", "wayland-shell-integration/*", "xcbglintegrations/*",
)  # fmt: skip
TRANSLATIONS = ("qtbase_*.qm",)
KEPT = (
    "__init__.py", "_*.py", "*.pyi", "support/*", "libpyside6.abi3.so*", "py.typed",
    *(f"Qt{name}.abi3.so" for name in MODULES),
    *(f"Qt/lib/{name}" for name in LIBRARIES),
    *(f"Qt/plugins/{name}" for name in PLUGINS),
    *(f"Qt/translations/{name}" for name in TRANSLATIONS),
)  # fmt: skip
PYI_KEPT = tuple(f"Qt{name}.pyi" for name in MODULES)
# Packages whose own tests are of no use here.
TESTED = ("numpy", "scipy")


def useless(packages: Path) -> Iterator[Path]:
    """Files and folders that can go."""
    qt = packages / "PySide6"
    for path in qt.rglob("*"):
        name = path.relative_to(qt).as_posix()
        if path.is_dir() or "__pycache__" in name:
            continue
        if (name.endswith(".pyi") and name not in PYI_KEPT and "/" not in name) or not any(
            fnmatch(name, pattern) for pattern in KEPT
        ):
            yield path
    for package in TESTED:
        yield from (packages / package).rglob("tests")


def prune(environment: Path) -> int:
    """Take it out; how many bytes have gone."""
    gone = 0
    for packages in environment.glob("lib/python3*/site-packages"):
        for path in list(useless(packages)):
            if path.is_dir():
                gone += sum(f.stat().st_size for f in path.rglob("*") if f.is_file())
                shutil.rmtree(path)
            elif path.exists():
                gone += path.stat().st_size
                path.unlink()
        folders = sorted((packages / "PySide6").rglob("*"), reverse=True)
        for folder in (f for f in folders if f.is_dir() and not any(f.iterdir())):
            folder.rmdir()
    return gone


if __name__ == "__main__":
    where = Path(sys.argv[1] if len(sys.argv) > 1 else ".venv")
    print(f"{prune(where) / 1e6:.0f} MB that are never used are taken out")
