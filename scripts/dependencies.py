"""Draws which folder of the package imports which, from the imports themselves.

`python scripts/dependencies.py` writes `docs/dependencies.svg`; with `--check` it only says
whether the drawing is current. A folder stands above all that it imports; a circle is an error.
"""

from __future__ import annotations

import ast
import sys
from collections.abc import Mapping
from functools import cache
from graphlib import CycleError, TopologicalSorter
from html import escape
from pathlib import Path

ROOT = Path(__file__).parents[1]
SOURCE = ROOT / "src"
DRAWING = ROOT / "docs/dependencies.svg"
BOX_W, BOX_H, GAP_X, GAP_Y, MARGIN = 128, 34, 22, 58, 24

Graph = dict[str, set[str]]


def module_name(path: Path) -> str:
    """Dotted name of a source file; of a package, its own."""
    parts = path.relative_to(SOURCE).with_suffix("").parts
    return ".".join(parts[:-1] if parts[-1] == "__init__" else parts)


def imports_of_modules(source: Path = SOURCE) -> Graph:
    """Every module of the package, and the modules of the package it imports anywhere."""
    paths = {module_name(p): p for p in sorted(source.rglob("*.py"))}
    graph: Graph = {}
    for name, path in paths.items():
        found: set[str] = set()
        for node in ast.walk(ast.parse(path.read_text("utf-8"))):
            if isinstance(node, ast.Import):
                found |= {alias.name for alias in node.names}
            elif isinstance(node, ast.ImportFrom) and node.module:
                inner = {f"{node.module}.{alias.name}" for alias in node.names}
                found |= {m if m in paths else node.module for m in inner}
        graph[name] = {m for m in found if m in paths and m != name}
    return graph


def folder_of(module: str) -> str:
    """The room a module stands in: its package, without the name of the whole."""
    is_package = (SOURCE / Path(*module.split("."))).is_dir()
    package = module if is_package else module.rpartition(".")[0]
    return package.removeprefix("plectrum").lstrip(".") or "plectrum"


def imports_of_folders(modules: Mapping[str, set[str]]) -> Graph:
    """Every folder and the folders it imports."""
    graph: Graph = {}
    for module, imported in modules.items():
        if module == "plectrum.__main__":
            continue  # the door of the house
        here = folder_of(module)
        graph.setdefault(here, set())
        graph[here] |= {folder_of(m) for m in imported} - {here}
    return graph


def levels_of(graph: Graph) -> dict[str, int]:
    """How high each folder stands: one more than the highest it imports.

    Raises:
        CycleError: folders that import each other.
    """
    levels: dict[str, int] = {}
    for name in TopologicalSorter(graph).static_order():
        levels[name] = max((levels[m] + 1 for m in graph[name]), default=0)
    return levels


def needed(graph: Graph) -> Graph:
    """The arrows worth drawing: those that no longer way over other folders tells already."""

    @cache
    def reached(start: str) -> set[str]:
        return graph[start].union(*(reached(name) for name in graph[start]))

    return {
        name: {m for m in found if not any(m in reached(o) for o in found - {m})}
        for name, found in graph.items()
    }


def drawing(graph: Graph) -> str:
    """The folders as boxes, level by level, an arrow to each that is imported."""
    levels = levels_of(graph)
    rows: dict[int, list[str]] = {}
    for name in sorted(graph):
        rows.setdefault(levels[name], []).append(name)
    widest = max(len(row) for row in rows.values())
    width = 2 * MARGIN + widest * BOX_W + (widest - 1) * GAP_X
    height = 2 * MARGIN + len(rows) * BOX_H + (len(rows) - 1) * GAP_Y
    place: dict[str, tuple[float, float]] = {}
    for level, names in rows.items():
        row_w = len(names) * BOX_W + (len(names) - 1) * GAP_X
        for k, name in enumerate(names):
            x = (width - row_w) / 2 + k * (BOX_W + GAP_X)
            place[name] = x, MARGIN + (max(rows) - level) * (BOX_H + GAP_Y)
    parts = [
        (
            f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {height}" '
            'font-family="sans-serif" font-size="13">'
        ),
        '<rect width="100%" height="100%" fill="#ffffff"/>',
    ]
    for name, imported in sorted(needed(graph).items()):
        x, y = place[name]
        for other in sorted(imported):
            ox, oy = place[other]
            start, end = x + BOX_W / 2, ox + BOX_W / 2
            bottom = y + BOX_H
            bend = (oy - bottom) / 2
            parts.append(
                f'<path d="M{start:.0f} {bottom:.0f} C{start:.0f} {bottom + bend:.0f} '
                f'{end:.0f} {oy - bend:.0f} {end:.0f} {oy:.0f}" fill="none" stroke="#8a9199"/>'
                f'<circle cx="{end:.0f}" cy="{oy:.0f}" r="3" fill="#4a5158"/>'
            )
    for name, (x, y) in sorted(place.items()):
        fill = "#e8eef3" if name.startswith("core") else "#f5efe4"
        parts.append(
            f'<rect x="{x:.0f}" y="{y:.0f}" width="{BOX_W}" height="{BOX_H}" rx="5" '
            f'fill="{fill}" stroke="#4a5158"/><text x="{x + BOX_W / 2:.0f}" '
            f'y="{y + BOX_H / 2 + 5:.0f}" text-anchor="middle">{escape(_label(name))}</text>'
        )
    return "\n".join([*parts, "</svg>"]) + "\n"


def _label(name: str) -> str:
    return name.removeprefix("core.").replace("planning.strokes", "planning/strokes")


def main(arguments: list[str]) -> int:
    """Draw, or check the drawing; 1 if it is out of date or goes in a circle."""
    try:
        modules = imports_of_modules()
        TopologicalSorter(modules).prepare()
        text = drawing(imports_of_folders(modules))
    except CycleError as error:
        print(f"imports go in a circle: {' -> '.join(error.args[1])}", file=sys.stderr)
        return 1
    if "--check" not in arguments:
        DRAWING.write_text(text, "utf-8")
        return 0
    if not DRAWING.exists() or DRAWING.read_text("utf-8") != text:
        print(f"{DRAWING.name} is out of date: run python {Path(__file__).name}", file=sys.stderr)
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
