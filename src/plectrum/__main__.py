"""`python -m plectrum`."""

from plectrum.cli import main

if __name__ == "__main__":
    main()
