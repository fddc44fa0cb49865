"""`python -m plectrum`."""

import sys

if __name__ == "__main__" and not sys.flags.safe_path:
    del sys.path[0]  # the current folder, where somebody's tunes are: see `core.own_process`

from plectrum.cli.main import main

if __name__ == "__main__":
    main()
