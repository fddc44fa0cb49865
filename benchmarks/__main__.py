"""All benchmarks, one line each."""

from benchmarks import core, handout, log, show, start, window

start.run()
core.run()
window.run()
show.run()
handout.run()
log.run()
