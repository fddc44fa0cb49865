"""Runs a module of this checkout, which is looked at last: nothing in it hides one of the library.

python -I scripts/run.py benchmarks [WORDS]
"""

import runpy
import sys
from pathlib import Path

sys.path.append(str(Path(__file__).resolve().parent.parent))
del sys.argv[0]
runpy.run_module(sys.argv[0], run_name="__main__", alter_sys=True)
