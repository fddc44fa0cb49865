"""The errors that reach a person. Each carries what is wrong, where, and what to do."""


class PlectrumError(Exception):
    """Base of all errors that are shown to the user as one line.

    Attributes:
        what: what is wrong, a sentence without full stop.
        where: the file or place, empty where there is none.
        remedy: what the user can do, empty where nothing can be done.
    """

    def __init__(self, what: str, *, where: str = "", remedy: str = "") -> None:
        super().__init__(what)
        self.what = what
        self.where = where
        self.remedy = remedy

    def __str__(self) -> str:
        line = f"{self.where}: {self.what}" if self.where else self.what
        return f"{line}. {self.remedy}" if self.remedy else line

    def at(self, where: str) -> "PlectrumError":
        """The same error with the file's name put before the place, if it has none yet."""
        if not self.where.startswith(where):
            self.where = f"{where}, {self.where}" if self.where else where
        return self


class ScoreError(PlectrumError, ValueError):
    """The file cannot be read as a score."""


class PlanFileError(PlectrumError, ValueError):
    """The plan file is damaged or of a newer major version."""


class ChoiceError(PlectrumError, ValueError):
    """A pin, option or player that does not fit the piece."""


class PlayerError(PlectrumError, ValueError):
    """A description of a player that cannot be used."""


class ForeignError(PlectrumError, ValueError):
    """Something from outside that no reader can make sense of."""
