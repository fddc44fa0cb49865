"""The Show screen: the score line, the stage, and the controls under it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from fractions import Fraction
from typing import Any

from PySide6.QtCore import QEvent, QObject, Qt, QTimer
from PySide6.QtGui import QHideEvent, QKeyEvent, QResizeEvent, QShowEvent
from PySide6.QtWidgets import (
    QHBoxLayout,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.advice.care import PAUSE, PAUSE_AFTER_S
from plectrum.core.document.document import Document
from plectrum.core.document.sections import Section
from plectrum.core.planning.ensemble.documents import plans_beside
from plectrum.core.planning.plan import Plan
from plectrum.core.playing.performance import Performance
from plectrum.core.sound.together import Parts
from plectrum.core.wording import tr
from plectrum.ui.desk.desk import Desk
from plectrum.ui.desk.guest import ExerciseGuest, Guest
from plectrum.ui.desk.screen import Screen
from plectrum.ui.editing.runner import Runner
from plectrum.ui.look import theme
from plectrum.ui.look.labels import label
from plectrum.ui.look.room import Foot, Yielding
from plectrum.ui.look.stack import Stack
from plectrum.ui.moving.heard_row import HeardRow
from plectrum.ui.moving.scenes import tune_scene
from plectrum.ui.moving.small_bows import SmallBows
from plectrum.ui.moving.stage import Scene, Stage
from plectrum.ui.playback.playing import Heard
from plectrum.ui.playback.transport import Transport
from plectrum.ui.show.controls import Controls
from plectrum.ui.show.exercise_page import ExercisePage
from plectrum.ui.show.follow_choice import FollowChoice
from plectrum.ui.show.score_line import ScoreLine
from plectrum.ui.show.setup import Prepared, ShowSetup, prepare, stretch_of
from plectrum.ui.show.try_it import TryIt

LINE_ZOOM, ALONE_ZOOM, PATH_ZOOM = 1.15, 1.6, 0.95  # larger than where one sits before it
LINE_PX, STAGE_PX = 170, 150  # so high is a line at zoom 1; and what the stage needs below it
PAUSE_SHOUT, REMINDER_MS = tr("time for a pause"), 8000
NOTHING_OPEN = tr("Open a tune, or choose an exercise (Ctrl+Shift+N) and show it here.")
NOTHING = tr("There is nothing to show yet: type the notes on the Piece screen (Ctrl+1).")


class ShowScreen(Screen):
    """Shows the session's plan in motion."""

    def __init__(self, desk: Desk, parent: QWidget | None = None) -> None:
        super().__init__(desk, parent)
        speaker = desk.speaker
        self.channel = desk.engraver.channel("show")
        self.prepared: Prepared | None = None
        self.transport = Transport(speaker, self)
        self.line = ScoreLine()
        self.line.zoom = LINE_ZOOM
        self.stage = Stage()
        self.small_bows = SmallBows()
        self.controls = Controls()
        self.foot = Foot(self.controls)
        self.try_it = TryIt(speaker)
        self.following = FollowChoice(self.transport, self.controls.follow, self)
        self.nothing = label("banner", NOTHING, wrap=True)
        self.guest: Guest | None = None
        self.exercise = ExercisePage(speaker)
        self._own_setup = ShowSetup()
        self.guest_bar = QWidget()
        self.guest_words = label("key", wrap=True)
        self.guest_back = QPushButton(tr("Back to the piece"))
        self._preparer = Runner(self)
        self._beside: tuple[Plan, ...] = ()
        self._beside_of: tuple[object, ...] = ()
        self._engraving_stale = self._plan_stale = True
        self._prepare_soon = QTimer(self, singleShot=True, interval=0)
        self._prepare_soon.timeout.connect(self._prepare)
        self._reminder = QTimer(self, singleShot=True, interval=REMINDER_MS)
        self._lay_out()
        self._connect()
        self._remember_voice()

    def _lay_out(self) -> None:
        self.pages = Stack()
        show = QWidget()
        column = QVBoxLayout(show)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.nothing)
        column.addWidget(self.guest_bar)
        column.addWidget(self.line)
        column.addWidget(self.small_bows)
        column.addWidget(self.stage, 1)
        self._stage_page = show
        self.pages.addWidget(show)
        self.pages.addWidget(self.try_it)
        self.pages.addWidget(self.exercise)
        self.pages.setCurrentWidget(show)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(Yielding(self.pages), 1)
        whole.addWidget(self.foot)
        self.stage.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.stage.installEventFilter(self)
        self.nothing.hide()
        bar = QHBoxLayout(self.guest_bar)
        bar.setContentsMargins(16, 6, 16, 2)
        self.guest_back.setObjectName("small")
        bar.addWidget(self.guest_words, 1)
        bar.addWidget(self.guest_back)
        self.guest_bar.hide()

    def _connect(self) -> None:
        session, controls, transport = self.session, self.controls, self.transport
        session.opened.connect(self._opened)
        session.score_changed.connect(self._score_changed)
        session.planned.connect(self._replanned)
        session.form_changed.connect(self._plan_changed)
        self.channel.failed.connect(session.not_engraved)
        self.channel.laid_out.connect(self.line.expect)
        self.channel.system_ready.connect(self.line.add_system)
        self.line.layout_wanted.connect(self.engrave)
        self.line.place_clicked.connect(self._place_clicked)
        transport.moved.connect(self._draw)
        transport.changed.connect(self._playing_changed)
        transport.silent.connect(self.message)
        transport.speaker.failed.connect(self.message)
        controls.setup_wanted.connect(lambda _: self._prepare_soon.start())
        controls.heard_changed.connect(self._hear)
        controls.play_wanted.connect(self.play)
        controls.start_wanted.connect(transport.go_to_start)
        controls.step_wanted.connect(transport.step)
        controls.mirror_wanted.connect(self.set_frog_right)
        controls.full_screen_wanted.connect(self.desk.full_screen_wanted)
        controls.try_wanted.connect(self.open_try_it)
        controls.follow_wanted.connect(self.following.choose)
        self.guest_back.clicked.connect(self.leave_guest)
        self.try_it.closed.connect(self.close_try_it)
        self.try_it.message.connect(self.message)
        self.exercise.closed.connect(self.leave_guest)
        self.exercise.message.connect(self.message)
        self.exercise.heard.volume.valueChanged.connect(self.desk.settings.keep_volume)
        self.exercise.heard.volume.valueChanged.connect(controls.heard.volume.setValue)
        controls.heard.volume.valueChanged.connect(self.exercise.heard.volume.setValue)
        self.exercise.mirror_wanted.connect(self.set_frog_right)
        self.exercise.full_screen_wanted.connect(self.desk.full_screen_wanted)
        self.exercise.moving.stage.installEventFilter(self)
        self.following.follower.traced.connect(self.line.set_trace)
        self.following.shown.connect(self._show_path)
        self.following.message.connect(self.message)
        self.following.failed.connect(session.failed)
        self.following.seen.connect(self.desk.log.bars_marked)

    def _remember_voice(self) -> None:
        """As it was set last; with exercises it is always on at first."""
        volume, tunes = self.desk.settings.voice
        self.controls.heard.set_voice(volume, on=tunes)
        self.exercise.heard.set_voice(volume, on=True)
        self.transport.set_heard(self.controls.heard.heard)
        self.exercise.moving.transport.set_heard(self.exercise.heard.heard)

    def _hear(self, heard: Heard) -> None:
        self.transport.set_heard(heard)
        row = self.controls.heard
        self.desk.settings.keep_voice(row.volume.value(), tunes=row.voice.isChecked())

    # what is shown

    @property
    def document(self) -> Document | None:
        """What is shown: a study that is visiting, or the session's own document."""
        return self.guest.document if self.guest is not None else self.session.both[0]

    @property
    def plan(self) -> Plan | None:
        return self.guest.plan if self.guest is not None else self.session.plan

    def show_guest(self, guest: Guest | ExerciseGuest) -> None:
        """Show a study or an exercise in place of the piece, over and over, until it is let go."""
        self.transport.pause()
        if isinstance(guest, ExerciseGuest):
            self.leave_guest()
            self.exercise.show_exercise(guest, alone=self.session.document is None)
            self._show_page(self.exercise)
            return
        self._show_page(self._stage_page)
        if self.guest is None:
            self._own_setup = self.controls.setup
        self.guest = guest
        back = tr("Esc goes back to the piece.") if self.session.document is not None else ""
        self.guest_words.setText(f"{guest.title}.  {back}".strip())
        self.guest_back.setVisible(bool(back))
        self.guest_bar.show()
        self.controls.show_setup(ShowSetup(kind=guest.kind, loop=True, echoes=guest.echoes))
        self._show_other()

    def _show_page(self, page: QWidget) -> None:
        """The stage of a tune, the exercise, or one string to try."""
        self.exercise.moving.transport.pause()
        if page is not self.exercise:
            self.exercise.moving.clear()
        self.pages.setCurrentWidget(page)
        alone = self.window().isFullScreen()
        self.foot.setVisible(page is self._stage_page and not alone)
        self.exercise.set_alone(alone)

    def leave_guest(self) -> None:
        """Back to the piece itself."""
        if self.pages.currentWidget() is self.exercise:
            self._show_page(self._stage_page)
            self._plan_changed()
            self.stage.setFocus()
        if self.guest is None:
            return
        self.guest = None
        self.guest_bar.hide()
        self.controls.show_setup(self._own_setup)
        self._show_other()

    def _show_other(self) -> None:
        self.transport.set_performance(None)
        self.line.clear()
        self.prepared = None
        self._engraving_stale = self._plan_stale = True
        if self.isVisible():
            self.engrave()
            self._plan_changed()

    def _opened(self) -> None:
        self.leave_guest()
        self.transport.set_performance(None)
        self.line.clear()

    def _score_changed(self) -> None:
        self.leave_guest()
        self.engrave()

    def _replanned(self, _changed: object = None) -> None:
        """The piece itself has another plan: a study of the old one goes."""
        self.leave_guest()
        self._plan_changed()

    def _plan_changed(self) -> None:
        self.transport.pause()
        if not self.isVisible():
            self._plan_stale = True
            return
        self._plan_stale = False
        plan = self.plan
        has_notes = plan is not None and bool(plan.part.notes)
        self.nothing.setText(NOTHING if self.session.document is not None else NOTHING_OPEN)
        self.nothing.setVisible(not has_notes)
        self.controls.setEnabled(has_notes)
        if plan is None or not has_notes:
            self.stage.show_scene(None)
            self.small_bows.set_others(None)
            return
        self._prepare()

    def show_selection(self, first: int, last: int) -> None:
        """Several notes selected elsewhere are what is played here."""
        self.leave_guest()
        plan = self.plan
        if plan is not None and plan.part.notes and last > first:
            controls = self.controls
            controls.setup = replace(controls.setup, stretch=stretch_of(plan, first, last))
            self._prepare_soon.start()

    def engrave(self) -> None:
        """Lay the staff out for the present width, now or when it is next seen."""
        document, plan = self.document, self.plan
        if document is None or plan is None:
            return
        if not self.isVisible():
            self._engraving_stale = True
            return
        self._engraving_stale = False
        self.line.plan = plan
        self.line.engrave(
            self.channel, document.score, (document.part_id,), document.choices.instrument
        )

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.transport.speaker.get_ready()
        if self._engraving_stale:
            self.engrave()
        if self._plan_stale:
            self._plan_changed()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.foot.fit()
        self._fit_line(self.window().isFullScreen())

    def hideEvent(self, event: QHideEvent) -> None:
        super().hideEvent(event)
        self.transport.pause()
        self.exercise.moving.transport.pause()

    def _prepare(self) -> None:
        plan, setup, form, document = self.plan, self.controls.setup, self._form, self.document
        if plan is None:
            return
        several = document is not None and len(document.string_parts) > 1
        self.controls.show_parts(several)
        wanted = document if several and setup.parts is not Parts.ALONE else None

        def work() -> Prepared:
            return prepare(plan, setup, form, self._plans_beside(wanted))

        self._preparer.run(work, self._take_prepared, self.session.failed.emit)

    def _plans_beside(self, document: Document | None) -> tuple[Plan, ...]:
        """The plans of the other parts of a document, kept as long as it is the same."""
        if document is None:
            return ()
        key = (document.score, document.part_id, document.choices, document.seats,
               document.together)  # fmt: skip
        if self._beside_of != key:
            self._beside = plans_beside(document)
            self._beside_of = key
        return self._beside

    @property
    def _form(self) -> tuple[Section, ...]:
        """The sections of what is shown."""
        return () if self.document is None else self.document.form

    @property
    def preparing(self) -> bool:
        return self._preparer.busy or self._prepare_soon.isActive()

    def _take_prepared(self, prepared: Any) -> None:
        if self._prepare_soon.isActive():
            return  # something else is wanted by now
        before, self.prepared = self.prepared, prepared
        state = self.transport.state()
        at_q = state.at_q if state is not None and state.note is not None else None
        self.line.show_plan(prepared.tempo.plan)
        self.controls.show_prepared(prepared)
        self._show_stretches(prepared)
        self.controls.show_window(prepared.window, prepared.base_bpm)
        performance = prepared.performance
        self.small_bows.set_others(prepared.others)
        self._show_span(prepared.setup)
        if performance is None:
            self.transport.set_performance(None)
            self.message.emit(tr("There is no note in this stretch."))
            return
        same = before is not None and before.setup.stretch == prepared.setup.stretch
        at_s = performance.time_of(at_q) if at_q is not None and same else 0.0
        self.transport.set_performance(performance, at_s, prepared.cards, prepared.others)

    def _show_stretches(self, prepared: Prepared) -> None:
        found, wanted = list(prepared.stretches), prepared.setup.stretch
        if wanted.selected:
            found.append(wanted)
        self.controls.show_stretches(found, found.index(wanted))

    def _show_span(self, setup: ShowSetup) -> None:
        stretch, plan = setup.stretch, self.plan
        if plan is None or (stretch.from_q is None and stretch.until_q is None):
            self.line.set_span(None)
            return
        last = plan.part.bars[-1]
        from_q = stretch.from_q if stretch.from_q is not None else Fraction(0)
        until_q = stretch.until_q
        if until_q is None:
            until_q = last.onset_q + last.duration_q
        self.line.set_span((float(from_q), float(until_q)))

    def catch_up(self) -> None:
        self._opened()
        self._score_changed()
        self._replanned()

    def arrive(self, before: Screen | None) -> None:
        """Notes selected on a screen before are what is played here; without a tune, the exercise
        that is looked at there."""
        show_it = getattr(before, "show_it", None)
        if self.session.document is None and self._shows_nothing and show_it is not None:
            show_it()
        selection = getattr(before, "selection", None)
        if selection is not None:
            self.show_selection(*selection())

    @property
    def heard_row(self) -> HeardRow:
        """What is heard of what is shown."""
        on_exercise = self.pages.currentWidget() is self.exercise
        return self.exercise.heard if on_exercise else self.controls.heard

    @property
    def _shows_nothing(self) -> bool:
        return self.guest is None and self.pages.currentWidget() is not self.exercise

    @property
    def focus_target(self) -> QWidget:
        return self.exercise if self.pages.currentWidget() is self.exercise else self.stage

    def zoom(self, steps: int) -> None:
        self.line.zoom_by(steps)

    def refresh_look(self) -> None:
        self.stage.forget()
        self.exercise.moving.stage.forget()
        self._fit_line(self.foot.isHidden() and self.pages.currentIndex() == 0)
        self.line.repaint_all()

    def _fit_line(self, alone: bool) -> None:
        """As large as there is room for: it does not grow with the interface's scale."""
        zoom = ALONE_ZOOM if alone else LINE_ZOOM
        if self.line.path and theme.scale() > 1.0 and not alone:
            zoom = PATH_ZOOM
        zoom = min(zoom, (self.height() - self.foot.height() - STAGE_PX) / LINE_PX)
        self.line.grows = not alone  # alone it is large already
        self.line.refit()
        self.line.set_zoom(zoom / theme.scale())

    def _show_path(self, path: bool) -> None:
        """The bow path under the staff, while a bow is followed."""
        self.line.set_path(path)
        self._fit_line(self.window().isFullScreen())
        self.draw_now()

    def set_frog_right(self, right: bool) -> None:
        """As in a mirror, or as the teacher sees it."""
        self.stage.set_frog_right(right)
        self.small_bows.set_frog_right(right)
        self.exercise.set_frog_right(right)
        self.controls.mirror.setCurrentIndex(0 if right else 1)
        self.draw_now()

    def turn_round(self) -> None:
        self.set_frog_right(not self.stage.frog_right)

    def set_alone(self, alone: bool) -> None:
        """Nothing but the stage, on the whole screen."""
        on_exercise = self.pages.currentWidget() is self.exercise
        self.foot.setHidden(alone or on_exercise)
        self.exercise.set_alone(alone)
        self._fit_line(alone)
        self.focus_target.setFocus()

    def end(self) -> None:
        """The window closes."""
        self.transport.pause()
        self.try_it.end()
        self.exercise.moving.transport.pause()
        self.following.follower.stop()

    # playing

    def play(self) -> None:
        """Play, or stop."""
        if self.pages.currentWidget() is self.exercise:
            self.exercise.toggle()
            return
        self.transport.toggle()
        if self.transport.playing and not self.transport.speaker.playing:
            self.message.emit(self.transport.speaker.why)

    def _playing_changed(self) -> None:
        self.controls.show_playing(self.transport.playing)
        self.draw_now()

    def _place_clicked(self, at_q: float, extend: bool) -> None:
        performance, plan = self.transport.performance, self.plan
        if performance is None or plan is None:
            return
        if extend:
            self._extend_to(at_q)
            return
        self.transport.go_to(performance.time_of(at_q))

    def _extend_to(self, at_q: float) -> None:
        """A stretch from where it stands to where Shift was clicked."""
        plan, state = self.plan, self.transport.state()
        if plan is None or state is None:
            return
        places = [float(n.onset_q) for n in plan.part.notes]
        ends = sorted((state.at_q, at_q))
        first = max((k for k, q in enumerate(places) if q <= ends[0] + 1e-9), default=0)
        last = max((k for k, q in enumerate(places) if q <= ends[1] + 1e-9), default=0)
        self.show_selection(first, last)

    def draw_now(self) -> None:
        """Draw the present moment again."""
        self._draw(self.transport.now_s())

    def _draw(self, at_s: float) -> None:
        performance = self.transport.performance
        scene = None if performance is None else self._scene(at_s, performance)
        self.stage.show_scene(scene)
        if performance is not None:
            self.small_bows.show_at(performance.fold(at_s))
        if scene is not None:
            self.line.show_place(scene.state.at_q)
        if self.transport.played_s > PAUSE_AFTER_S:
            self.transport.played_s = 0.0
            self._reminder.start()
            self.message.emit(PAUSE)

    def _scene(self, at_s: float, performance: Performance) -> Scene | None:
        motion, cards = self.transport.motion, self.transport.cards
        if motion is None or cards is None:
            return None
        ghost = self.following.follower.ghost()
        scene = tune_scene(
            performance, motion, cards, at_s, playing=self.transport.playing, ghost=ghost
        )
        return replace(scene, shout=PAUSE_SHOUT) if self._reminder.isActive() else scene

    def prepared_now(self) -> Prepared | None:
        """What the present plan is played as by the controls; also before it has been shown."""
        plan, document = self.plan, self.document
        if plan is None or document is None or not plan.part.notes:
            return None
        several = document if self.controls.setup.parts is not Parts.ALONE else None
        return prepare(plan, self.controls.setup, self._form, self._plans_beside(several))

    def performance_now(self) -> Performance | None:
        """The same, as it is played."""
        prepared = self.prepared_now()
        return None if prepared is None else prepared.performance

    # trying a string

    def open_try_it(self) -> None:
        """One open string under the hand's sliders."""
        plan = self.plan
        if plan is None:
            return
        self.transport.pause()
        self.try_it.road.frog_right = self.stage.frog_right
        self.try_it.set_instrument(plan.instrument, plan.choices.bow)
        self.foot.hide()
        self.pages.setCurrentWidget(self.try_it)
        self.try_it.play.setFocus()

    def close_try_it(self) -> None:
        self.pages.setCurrentWidget(self._stage_page)
        self.foot.setHidden(self.window().isFullScreen())
        self.stage.setFocus()

    # keys

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            return self._key(event.key())
        return super().eventFilter(watched, event)

    def _key(self, key: int) -> bool:
        if self.pages.currentWidget() is self.exercise and key != Qt.Key.Key_Escape:
            return self.exercise.key(key)
        actions: dict[Qt.Key, Callable[[], object]] = {
            Qt.Key.Key_Left: lambda: self.transport.step(-1),
            Qt.Key.Key_Right: lambda: self.transport.step(1),
            Qt.Key.Key_Home: self.transport.go_to_start,
            Qt.Key.Key_Up: lambda: self.controls.tempo.setValue(self.controls.tempo.value() + 5),
            Qt.Key.Key_Down: lambda: self.controls.tempo.setValue(self.controls.tempo.value() - 5),
        }
        if key == Qt.Key.Key_Escape:
            return self._let_go()
        action = actions.get(Qt.Key(key))
        if action is None:
            return False
        action()
        return True

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() != Qt.Key.Key_Escape or not self._let_go():
            super().keyPressEvent(event)

    def _let_go(self) -> bool:
        """What Esc ends: playing, then the full screen."""
        if self.pages.currentWidget() is self.exercise and self.exercise.let_go():
            return True
        if self.transport.playing:
            self.transport.pause()
            return True
        if self.pages.currentWidget() is self.try_it:
            self.close_try_it()
            return True
        if self.window().isFullScreen():
            self.desk.full_screen_wanted.emit()
            return True
        on_exercise = self.pages.currentWidget() is self.exercise
        if (self.guest is not None or on_exercise) and self.session.document is not None:
            self.leave_guest()
            return True
        return False
