"""Foreign files against every entry, for so long: `make fuzz`, or `python -m tests.fuzzing.run`.

What an entry does not turn into a clear line is printed with its seed, made smaller, and kept in
`found`, where the tests read it from then on.
"""

from __future__ import annotations

import argparse
import faulthandler
import os
import random
import resource
import signal
import sys
import time
import zlib
from collections import Counter
from multiprocessing import Process, Queue
from pathlib import Path
from queue import Empty
from typing import Any

from plectrum.core.errors import PlectrumError
from tests.fuzzing.mutations import mutated
from tests.fuzzing.targets import TARGETS, Target, TooLongError

FOUND = Path(__file__).parent / "found"
LIMIT_S = 10
MEMORY_BYTES = 500_000_000  # beyond what the program needs by itself


def _too_long(_signal: int, _frame: object) -> None:
    raise TooLongError("no answer in time")


def trouble_with(target: Target, data: bytes, seed: int) -> BaseException | None:
    """What an entry does with bytes that is neither a value nor one clear line."""
    try:
        target.take(data, random.Random(seed))
    except PlectrumError as error:
        if len(str(error).splitlines()) > 1:
            return error
        # The last resort caught something that nobody foresaw: a finding too.
        return error if error.__cause__ is not None and "not expected" in str(error) else None
    except (Exception, TooLongError) as error:
        return error
    return None


def made(target: Target, seed: int) -> bytes:
    """The mutated bytes of a seed."""
    luck = random.Random(seed * 1000 + zlib.crc32(target.name.encode()) % 1000)
    return mutated(luck.choice(target.examples()), target.kind, luck)


def smaller(target: Target, data: bytes, seed: int, limit_s: float = 20.0) -> bytes:
    """Bytes with pieces cut out that make the same kind of trouble."""
    kind = type(trouble_with(target, data, seed))
    until, piece = time.monotonic() + limit_s, max(1, len(data) // 2)
    while piece and time.monotonic() < until:
        at = 0
        while at < len(data) and time.monotonic() < until:
            less = data[:at] + data[at + piece :]
            if type(trouble_with(target, less, seed)) is kind:
                data = less
            else:
                at += piece
        piece //= 2
    return data


def _work(share: int, jobs: int, options: Any, told: Queue) -> None:
    signal.signal(signal.SIGALRM, _too_long)
    faulthandler.register(signal.SIGUSR1)  # says where a worker is that stays away
    for target in TARGETS:
        target.examples()
    told.put(("begun",))  # what carries the answers is there before memory is short
    used = int(Path("/proc/self/statm").read_text().split()[0]) * resource.getpagesize()
    resource.setrlimit(resource.RLIMIT_AS, (used + MEMORY_BYTES, used + MEMORY_BYTES))
    until = time.monotonic() + 60 * options.minutes
    counts: Counter[str] = Counter()
    slowest, seed = (0.0, ""), options.seed + share
    chosen = [t for t in TARGETS if not options.only or t.name == options.only]
    while time.monotonic() < until and counts.total() * jobs < options.most:
        for target in chosen:
            data = made(target, seed)
            signal.alarm(LIMIT_S)
            begun = time.monotonic()
            trouble = trouble_with(target, data, seed)
            signal.alarm(0)
            slowest = max(slowest, (time.monotonic() - begun, f"{target.name} {seed}"))
            counts[target.name] += 1
            if trouble is not None:
                told.put(
                    ("trouble", target.name, seed, f"{type(trouble).__name__}: {trouble}"[:300])
                )
        seed += jobs
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1000
    told.put(("done", counts, slowest, peak))


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--minutes", type=float, default=5.0)
    parser.add_argument("--most", type=int, default=10**9, help="inputs at most")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--jobs", type=int, default=os.cpu_count() or 1)
    parser.add_argument("--only", help="the name of one entry")
    options = parser.parse_args()
    told: Queue = Queue()
    workers = [
        Process(target=_work, args=(k, options.jobs, options, told)) for k in range(options.jobs)
    ]
    for worker in workers:
        worker.start()
    counts: Counter[str] = Counter()
    troubles: list[tuple[str, int, str]] = []
    slowest, peak, left = (0.0, ""), 0, len(workers)
    while left:
        try:
            what, *rest = told.get(timeout=60)
        except Empty:
            if all(worker.is_alive() for worker in workers):
                continue
            print("trouble: a worker died", [worker.exitcode for worker in workers])
            return 1
        if what == "begun":
            continue
        if what == "trouble":
            troubles.append(tuple(rest))
            print("trouble:", *rest, flush=True)
        else:
            left -= 1
            counts += rest[0]
            slowest, peak = max(slowest, rest[1]), max(peak, rest[2])
    for worker in workers:
        worker.join()
    _keep(troubles)
    print(", ".join(f"{name} {n}" for name, n in counts.items()))
    print(f"{counts.total()} inputs, seeds from {options.seed}, {len(troubles)} troubles, slowest "
          f"{slowest[0]:.2f} s ({slowest[1]}), peak {peak} MB")  # fmt: skip
    return 1 if troubles else 0


def _keep(troubles: list[tuple[str, int, str]]) -> None:
    """The smallest input of each kind of trouble, as test data."""
    FOUND.mkdir(exist_ok=True)
    by_name = {target.name: target for target in TARGETS}
    kinds = {(name, words.split(":")[0]): seed for name, seed, words in troubles}
    for (name, kind), seed in kinds.items():
        target = by_name[name]
        data = smaller(target, made(target, seed), seed)
        (FOUND / f"{name.replace(' ', '-')}-{kind}-{seed}").write_bytes(data)


if __name__ == "__main__":
    sys.exit(main())
