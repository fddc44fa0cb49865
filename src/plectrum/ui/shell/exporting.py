"""What is handed on: the marked score, the table of notes, the sound."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QThreadPool, QTimer, Signal
from PySide6.QtWidgets import QWidget

from plectrum.core.atomic import write_atomically
from plectrum.core.errors import PlectrumError
from plectrum.core.wording import say, tr
from plectrum.ui.desk.desk import Desk
from plectrum.ui.editing.runner import Runner
from plectrum.ui.look.plain import progress_dialog, succeed
from plectrum.ui.look.where_to import where_to

if TYPE_CHECKING:
    from plectrum.core.document.document import Document
    from plectrum.core.files.marking import Marking
    from plectrum.core.planning.plan import Plan
    from plectrum.core.playing.performance import Performance
    from plectrum.core.practice.exercises.catalogue import Made
    from plectrum.core.practice.exercises.sound import RoutineSound
    from plectrum.core.sound.render import Renderer
    from plectrum.core.sound.together import Beside, Together
    from plectrum.ui.playback.playing import Heard

    Rendered = Renderer | Together | RoutineSound


NOTHING_OPEN = tr("Open a tune first; there is nothing to export.")


class SoundExport(QObject):
    """Renders a WAV file aside, with progress that can be cancelled."""

    done = Signal()
    failed = Signal(object)

    def __init__(
        self,
        path: Path,
        renderer: Renderer | Together | RoutineSound,
        length_s: float,
        parent: QWidget,
    ) -> None:
        super().__init__(parent)
        self._path = path
        self._renderer, self._length_s = renderer, length_s
        self._wanted = True
        self.progress = progress_dialog(parent, tr("Rendering the sound …"), 100)
        self.progress.setMinimumDuration(1000)
        self.progress.canceled.connect(self._cancel)
        self._timer = QTimer(self, interval=100)
        self._timer.timeout.connect(self._show_progress)
        self._timer.start()
        self._runner = Runner(self, QThreadPool.globalInstance())
        self._runner.run(self._work, self._finish, self._fail)

    def _work(self) -> bytes:
        from plectrum.core.sound.wav import wav_bytes

        return wav_bytes(self._renderer.blocks(), lambda: self._wanted)

    def _cancel(self) -> None:
        self._wanted = False

    def _show_progress(self) -> None:
        self.progress.setValue(min(99, int(100 * self._renderer.at_s / self._length_s)))

    def _close(self) -> None:
        self._timer.stop()
        self.progress.canceled.disconnect(self._cancel)
        self.progress.reset()
        self.progress.close()

    def _finish(self, data: object) -> None:
        self._close()
        if not self._wanted:
            return
        try:
            write_atomically(self._path, bytes(data))  # type: ignore[call-overload]
        except PlectrumError as error:
            self.failed.emit(error)
            return
        self.done.emit()

    def _fail(self, error: Exception) -> None:
        self._close()
        self.failed.emit(error)


class Exporter:
    """Asks where to, and writes."""

    def __init__(self, desk: Desk, parent: QWidget) -> None:
        self._settings = desk.settings
        self._session = desk.session
        self._parent = parent
        self._say = desk.message.emit

    def musicxml(self) -> None:
        """The user's own score with bow marks, and more if that is chosen."""
        from plectrum.core.files.marking import Marking
        from plectrum.ui.shell.marking_dialog import MarkingDialog

        if self._session.document is None:
            self._say(NOTHING_OPEN)
            return
        succeed(getattr(self, "marking_dialog", None))
        self.marking_dialog = MarkingDialog(Marking.from_dict(self._settings.marking), self._parent)
        self.marking_dialog.wanted.connect(self._export_marked)
        self.marking_dialog.open()

    def _export_marked(self, marking: Marking) -> None:
        from plectrum.core.files.exports import plan_as_musicxml

        self._settings.marking = marking.as_dict()
        self._export(
            "musicxml",
            tr("MusicXML (*.musicxml *.xml)"),
            lambda document, plan: plan_as_musicxml(document, plan, marking),
        )

    def csv(self) -> None:
        """A line a note."""
        from plectrum.core.files.exports import plan_as_csv

        self._export("csv", tr("Table (*.csv)"), lambda _document, plan: plan_as_csv(plan).encode())

    def midi(self, performance: Performance | None) -> None:
        """The timing of a performance, with repeats played out."""
        from plectrum.core.files.midi_export import performance_as_midi

        if performance is None:
            self._say(NOTHING_OPEN)
            return
        self._export(
            "mid",
            tr("MIDI (*.mid)"),
            lambda document, _plan: performance_as_midi(performance, document.title),
        )

    def wav(
        self, performance: Performance | None, heard: Heard, others: Beside | None = None
    ) -> None:
        """A performance as it sounds; the window stays live while it is rendered."""
        if performance is None:
            self._say(NOTHING_OPEN)
            return
        title = self._session.document.title if self._session.document is not None else "tune"
        path = self._where_to(f"{title}.wav", tr("Sound (*.wav)"))
        if path is not None:
            from plectrum.ui.playback.transport import PlayedTune

            renderer = PlayedTune(performance, others).source(heard, 0.0)
            self._render(path, renderer, performance.length_s)

    def exercises_wav(self, title: str, made: Sequence[Made]) -> None:
        """Exercises one after the other, once through, with their voice."""
        path = self._where_to(f"{title}.wav", tr("Sound (*.wav)"))
        if path is not None:
            self.write_exercises(path, made)

    def write_exercises(self, path: Path, made: Sequence[Made]) -> None:
        """The same, where the path is known."""
        from plectrum.core.practice.exercises.sound import RoutineSound

        heard = RoutineSound(made)
        self._render(path, heard, heard.length_s)

    def _render(
        self, path: Path, renderer: Renderer | Together | RoutineSound, length_s: float
    ) -> None:
        self.sound_export = SoundExport(path, renderer, length_s, self._parent)
        self.sound_export.done.connect(lambda: self._say(say("Exported {name}", name=path.name)))
        self.sound_export.failed.connect(self._session.failed)

    def _where_to(self, suggested: str, kind: str) -> Path | None:
        suggested = self._settings.to_be_written(suggested)
        return where_to(self._parent, tr("Export"), suggested, kind, self._session.files)

    def _export(self, suffix: str, kind: str, make: Callable[[Document, Plan], bytes]) -> None:
        document = self._session.document
        if document is None:
            self._say(NOTHING_OPEN)
            return
        suggested = f"{document.title} bowed.{suffix}"
        path = self._where_to(suggested, kind)
        if path is None:
            return
        try:
            finished = self._session.finished()
            if finished is not None:
                write_atomically(path, make(*finished))
        except PlectrumError as error:
            self._session.failed.emit(error)
            return
        self._say(say("Exported {name}", name=path.name))
