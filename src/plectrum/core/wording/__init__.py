"""Every text that a person reads: translated, in the user's own words, with numbers as he writes
them. The language is fixed when the program starts."""

from plectrum.core.wording.own_words import NOTE_VALUE as NOTE_VALUE
from plectrum.core.wording.texts import in_figures as in_figures
from plectrum.core.wording.texts import in_words as in_words
from plectrum.core.wording.texts import say as say
from plectrum.core.wording.texts import sentence_like as sentence_like
from plectrum.core.wording.texts import several as several
from plectrum.core.wording.texts import tr as tr
