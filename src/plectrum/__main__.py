"""`python -m plectrum`."""

from plectrum.cli.main import main

if __name__ == "__main__":
    main()
