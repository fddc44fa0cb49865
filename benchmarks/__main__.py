"""All benchmarks, one line each."""

from benchmarks import core, window

core.run()
window.run()
