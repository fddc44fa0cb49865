from plectrum.core.sound.in_python import run_sections as run_sections
from plectrum.core.sound.in_python import run_string as run_string
