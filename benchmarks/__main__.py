"""All benchmarks, one line each."""

from benchmarks import core, show, window

core.run()
window.run()
show.run()
