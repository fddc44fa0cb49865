"""`plectrum shelf`: the tunes of folders and books at a glance, each planned for one player."""

from __future__ import annotations

import json
from argparse import ArgumentParser, Namespace
from functools import partial
from pathlib import Path

from plectrum.cli.many import add_jobs, each_of
from plectrum.cli.options import add_score_options, document_from
from plectrum.core.files.shelf import Glance, ShelfTune, glance_at, tunes_on
from plectrum.core.plain_text import shown_name
from plectrum.core.wording import say, tr

FORMATS = ("text", "json")


def add_options(parser: ArgumentParser) -> None:
    add_score_options(parser, several_files=True)
    parser.add_argument("--format", choices=FORMATS, default="text", metavar="FORMAT",
                        help=tr("text, or json: a line for every tune"))  # fmt: skip
    add_jobs(parser)


def run(arguments: Namespace) -> int:
    tunes = tunes_on([Path(file) for file in arguments.files], arguments.tune)
    failed = 0
    glances = each_of(tunes, partial(_glance, arguments), arguments.jobs)
    for tune, (good, line) in zip(tunes, glances, strict=True):
        failed += not good
        seen = {"file": str(tune.path), "name": shown_name(tune.path), "count": len(tunes)}
        if tune.place is not None:
            seen |= {"place": tune.place, "name": tune.words}
        seen |= json.loads(line) if good else {"title": tune.title, "error": line}
        print(json.dumps(seen, ensure_ascii=False) if arguments.format == "json" else said(seen),
              flush=True)  # fmt: skip
    return 1 if failed else 0


def _glance(arguments: Namespace, tune: ShelfTune) -> str:
    data, name, source = tune.read()
    glance = glance_at(document_from(data, name, arguments, source))
    return json.dumps(glance.as_dict())


def said(seen: dict[str, object]) -> str:
    """A tune in one line, for people."""
    if "error" in seen:
        return f"! {seen['error']}"
    fields = {k: v for k, v in seen.items() if k in Glance.__dataclass_fields__}
    glance = Glance(**fields)  # type: ignore[arg-type]
    words = [glance.key, glance.metre, say("{bars} bars", bars=glance.bars_n), glance.tempo]
    words.append(
        say("plays from {window}", window=glance.window)
        if glance.window
        else tr("plays at no tempo as it is")
    )
    first = f"{glance.title} ({seen['name']}): {', '.join(w for w in words if w)}"
    things = list(glance.things)
    return (
        first
        if not things
        else say("{first}; to look at: {list}", first=first, list="; ".join(things))
    )
