"""The job in memory: its entities, its edits, and the file they are written to."""

from __future__ import annotations

import secrets
from bisect import bisect_left, insort
from collections.abc import Callable, Hashable, Iterable, Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any, TypeVar

from vernus.core.errors import BadInputError
from vernus.job.entities import (
    Axis,
    Entity,
    FeelRecord,
    GapCheck,
    Hung,
    JobInfo,
    LogEntry,
    Machine,
    Photo,
    PositioningRun,
    ScalePlan,
    Sweep,
    odd_times,
)
from vernus.job.errors import JobContentError, ReadOnlyError
from vernus.job.file import JobFile
from vernus.job.history import Change, Edit, History
from vernus.job.moments import instant
from vernus.job.rows import picture_id

LOGGED: tuple[type[Entity], ...] = (Sweep, GapCheck, PositioningRun, FeelRecord, LogEntry, Photo)
"""What is logged reading by reading: no plan, stroke or envelope depends on it."""

E = TypeVar("E", bound=Entity)
T = TypeVar("T")
Clock = Callable[[], datetime]


def now_here() -> datetime:
    """The time now, in the local zone."""
    return datetime.now(UTC).astimezone()


def new_id() -> str:
    """A fresh entity id."""
    return secrets.token_hex(8)


class Job:
    """An open job; entities without times get them.

    Every accepted edit is in memory, in the history, and on the disk when ``apply`` returns.
    """

    def __init__(self, entities: Iterable[Entity], file: JobFile | None = None, clock: Clock = now_here) -> None:
        given = [_with_times(e) for e in entities]
        self._file = file
        self._clock = clock
        self._last = max((e.created for e in given), key=instant, default="")
        self._entities = {e.id: e if e.created else self._stamp(e) for e in given}
        self._sorted: dict[type, dict[str, list[Any]]] = {}
        self._derived: dict[Hashable, tuple[Any, Any]] = {}
        self._of_each: dict[Hashable, tuple[Any, dict[str, tuple[Entity, Any]]]] = {}
        self._edits_of: dict[type, int] = {}
        self._edits = self._decided = 0
        self._logged_of: dict[str, int] = {}
        self._pictures: dict[str, bytes] = {}
        self.history = History()
        self.pending: Change = {}
        """Accepted edits that could not be written yet."""
        self.copied = False
        """Whether a copy with the pending edits is safe elsewhere."""

    def now(self) -> datetime:
        """The time now, by the job's own clock."""
        return self._clock()

    @classmethod
    def open(cls, path: Path) -> Job:
        """Open a job file; raises JobFileError."""
        file = JobFile.open(path)
        try:
            return cls(file.load().values(), file)
        except BaseException:
            file.close()
            raise

    @classmethod
    def create(
        cls, path: Path, entities: Iterable[Entity], pictures: Iterable[bytes] = (), *, replace: bool = False
    ) -> Job:
        """Write a new job file from ``entities`` and their pictures and open it.

        Raises JobFileError if it is already there, unless it may be replaced.
        """
        job = cls(entities)
        filed = {picture_id(data): data for data in pictures}
        job._file = JobFile.create(path, job.entities(), filed.items(), replace=replace)
        return job

    def supposing(self, *said: Entity) -> Job:
        """This job in memory alone with some entities said otherwise, or added: what a plan would come to.

        What was worked out here and reads none of their kinds is taken over.
        """
        other = Job((), clock=self._clock)
        other._last = self._last
        other._entities = dict(self._entities)
        other._derived = dict(self._derived)
        other._of_each = {key: (age, dict(each)) for key, (age, each) in self._of_each.items()}
        other._edits_of, other._logged_of = dict(self._edits_of), dict(self._logged_of)
        other._edits, other._decided = self._edits, self._decided
        other._take({e.id: e if e.created else other._stamp(e) for e in said})
        return other

    @property
    def path(self) -> Path | None:
        """The file the job is written to."""
        return self._file.path if self._file else None

    @property
    def notices(self) -> tuple[str, ...]:
        """What was decided for the user when an older file was converted."""
        return self._file.notices if self._file else ()

    @property
    def read_only_because(self) -> str:
        """Why edits are refused; empty when they are not."""
        return self._file.read_only_because if self._file else ""

    @property
    def info(self) -> JobInfo:
        """The job's own entry."""
        return self.all(JobInfo)[0]

    @property
    def machine(self) -> Machine:
        """The machine; raises JobContentError when the job has none."""
        machines = self.all(Machine)
        if not machines:
            raise JobContentError("The job has no machine.")
        return machines[0]

    @property
    def size(self) -> int:
        """How many entities there are."""
        return len(self._entities)

    def take_over(self, other: Job) -> None:
        """What was worked out of this job as it was, in ``other`` (``supposing`` nothing): not worked out again here.

        Each answer carries the edits it rests on, so that one from before an edit is of no consequence.
        """
        self._derived.update(other._derived)
        self._of_each.update(other._of_each)

    def entities(self) -> list[Entity]:
        """Every entity, oldest first."""
        return sorted(self._entities.values(), key=_age)

    def all(self, kind: type[E]) -> list[E]:
        """Every entity of one kind, oldest first."""
        return list(self._of_kind(kind).get("", ()))

    def of_axis(self, kind: type[E], axis_id: str) -> list[E]:
        """Every entity of one kind that belongs to an axis, oldest first."""
        found = list(self._of_kind(kind).get(axis_id, ())) if axis_id else []
        if not issubclass(kind, Hung) or kind.outlasts or not any(getattr(e, "hung_on", "") for e in found):
            return found
        return [e for e in found if self.counts(e)]

    def counts(self, entity: Entity) -> bool:
        """Whether something holds where the scale of its axis hangs now: not what was done on another face.

        Of a scale that is there already another face is only said otherwise.
        """
        if not isinstance(entity, Hung) or not entity.hung_on or entity.outlasts:
            return True
        return self.face_of(getattr(entity, "axis_id", "")) in ("", entity.hung_on)

    def face_of(self, axis_id: str) -> str:
        """The id of the face that a scale to be fitted goes on; "" where none is chosen, or it is there already."""
        axis = self._entities.get(axis_id)
        if not isinstance(axis, Axis) or axis.readout == "there":
            return ""
        plans = self._of_kind(ScalePlan).get(axis_id, ())
        return plans[-1].face_id if plans else ""

    def _of_kind(self, kind: type[E]) -> dict[str, list[E]]:
        """The entities of a kind in order, all of them under "" and each axis's own under its id."""
        if kind not in self._sorted:
            groups: dict[str, list[E]] = {}
            found = (e for e in self._entities.values() if isinstance(e, kind))
            for entity in sorted(found, key=_age):
                for key in _groups_of(entity):
                    groups.setdefault(key, []).append(entity)
            self._sorted[kind] = groups
        return self._sorted[kind]

    def derived(self, key: Hashable, make: Callable[[], T], reads: Iterable[type[Entity]] = ()) -> T:
        """What ``make`` says under that key, worked out once until the next edit of the kinds it reads.

        None said: of any kind but what is only logged (``LOGGED``), which decides nothing but its own sheet. A
        BadInputError of ``make`` is kept and raised in the same way. What comes back is shared: nobody changes it.
        """
        kinds = tuple(reads)
        age = tuple(self._edits_of.get(kind, 0) for kind in kinds) if kinds else self.decided
        return self._cached(key, age, make)

    def derived_of_axis(self, key: Hashable, axis_id: str, make: Callable[[], T]) -> T:
        """As ``derived``, until the next edit of what isn't only logged, or what is logged of that axis or of none."""
        logged = self._logged_of.get(axis_id, 0), self._logged_of.get("", 0)
        return self._cached((key, axis_id), (self.decided, logged), make)

    def derived_now(self, key: Hashable, make: Callable[[], T]) -> T:
        """As ``derived``, until the next edit of anything at all."""
        return self._cached(("now", key), self._edits, make)

    def knows_now(self, key: Hashable) -> bool:
        """Whether ``derived_now`` has an answer under that key."""
        known = self._derived.get(("now", key))
        return known is not None and known[0] == self._edits

    @property
    def decided(self) -> int:
        """How many edits there were of anything but what is only logged."""
        return self._decided

    def _cached(self, key: Hashable, age: object, make: Callable[[], T]) -> T:
        known = self._derived.get(key)
        if known is None or known[0] != age:
            try:
                known = (age, make())
            except BadInputError as error:
                known = (age, error)
            self._derived[key] = known
        if isinstance(known[1], BadInputError):
            raise known[1]
        found: T = known[1]
        return found

    def derived_each(
        self, key: Hashable, kind: type[E], make: Callable[[E], T], reads: Iterable[type[Entity]]
    ) -> list[T]:
        """What ``make`` says of each entity of a kind, oldest first; worked out again only of one that was edited.

        All of them are worked out again once an entity of the kinds it ``reads`` beside it was edited.
        """
        age = tuple(self._edits_of.get(kind, 0) for kind in reads)
        known = self._of_each.get(key)
        if known is None or known[0] != age:
            known = self._of_each[key] = (age, {})
        said = known[1]
        for entity in self._of_kind(kind).get("", ()):
            before = said.get(entity.id)
            if before is None or before[0] is not entity:
                said[entity.id] = (entity, make(entity))
        return [said[entity.id][1] for entity in self._of_kind(kind).get("", ())]

    def get(self, entity_id: str) -> Entity | None:
        """The entity with that id, if it is there."""
        return self._entities.get(entity_id)

    def axes(self) -> list[Axis]:
        """The machine's axes, in the order of the template."""
        return self.all(Axis)

    def picture(self, wanted: str) -> bytes | None:
        """A picture by its id; None where it isn't there or was altered."""
        if wanted in self._pictures or self._file is None:
            return self._pictures.get(wanted)
        return self._file.picture(wanted)

    def pictures(self) -> Iterator[tuple[str, bytes]]:
        """The pictures that the job's entities name, each once, with what they hold."""
        for wanted in sorted(pictures_of(self._entities.values())):
            data = self.picture(wanted)
            if data is not None:
                yield wanted, data

    def apply(
        self,
        label: str,
        put: Iterable[Entity] = (),
        drop: Iterable[str] = (),
        *,
        undoable: bool = True,
        pictures: Iterable[bytes] = (),
    ) -> list[Entity]:
        """Accept one edit: entities put (new or changed) and ids dropped, written as one transaction with ``pictures``.

        Returns the entities as stored. Raises ReadOnlyError (nothing happened) or JobWriteError (the edit is kept in
        memory and in ``pending``).
        """
        if self.read_only_because:
            raise ReadOnlyError(f"This job is open read-only: {self.read_only_because}. Save a copy to work on it.")
        stored = [self._stamp(self._placed(e)) for e in put]
        after: Change = {e.id: e for e in stored} | {i: None for i in drop if i in self._entities}
        before: Change = {i: self._entities.get(i) for i in after}
        self._pictures |= {picture_id(data): data for data in pictures}
        if after:
            if undoable:
                self.history.add(Edit(label, before, after))
            self._take(after)
        return stored

    def undo(self) -> str | None:
        """Take the last edit back; returns its label, or None when there is nothing to undo."""
        edit = self.history.undo()
        if edit is not None:
            self._take(edit.before)
        return edit.label if edit else None

    def redo(self) -> str | None:
        """Do the last undone edit again; returns its label, or None when there is nothing to redo."""
        edit = self.history.redo()
        if edit is not None:
            self._take(edit.after)
        return edit.label if edit else None

    def retry(self) -> None:
        """Write what could not be written before; raises JobWriteError if it still can't be."""
        self._take({})

    def save_copy(self, path: Path, *, replace: bool = False) -> None:
        """Write the job as it is in memory to another file."""
        JobFile.create(path, self.entities(), self.pictures(), replace=replace).close()
        self.copied = True

    def close(self) -> None:
        """Let go of the file, and of the pictures in it that nothing shows any longer."""
        if self._file is not None:
            if not self.pending and not self._file.closed:
                self._file.forget_pictures(pictures_of(self._entities.values()))
            self._file.close()

    def _take(self, changes: Change) -> None:
        for entity_id, entity in changes.items():
            was = self._entities.pop(entity_id, None) if entity is None else self._entities.get(entity_id)
            if entity is not None:
                self._entities[entity_id] = entity
            self._place(was, entity)
            for touched in (e for e in (was, entity) if e is not None):
                self._edits_of[type(touched)] = self._edits_of.get(type(touched), 0) + 1
                self._edits += 1
                if type(touched) not in LOGGED:
                    self._decided += 1
                elif touched.decides:
                    of = getattr(touched, "axis_id", "")
                    self._logged_of[of] = self._logged_of.get(of, 0) + 1
        self.pending = {**self.pending, **changes}
        self.copied = self.copied and not changes
        if self._file is not None and self.pending:
            self._file.write(self.pending, self._pictures)
            self._pictures = {}
        self.pending = {}

    def _place(self, was: Entity | None, now: Entity | None) -> None:
        """Keep what is sorted already in order, so that an edit doesn't sort everything of its kind again."""
        for kind, groups in self._sorted.items():
            if was is not None and isinstance(was, kind):
                for key in _groups_of(was):
                    del groups[key][bisect_left(groups[key], _age(was), key=_age)]
            if now is not None and isinstance(now, kind):
                for key in _groups_of(now):
                    insort(groups.setdefault(key, []), now, key=_age)

    def _placed(self, entity: Entity) -> Entity:
        """What is of a face from now on, with the face that the scale of its axis hangs on."""
        if not isinstance(entity, Hung) or entity.hung_on or not entity.is_of_a_face:
            return entity
        was = self._entities.get(entity.id)
        if isinstance(was, Hung) and was.is_of_a_face:
            return entity
        face = self.face_of(getattr(entity, "axis_id", ""))
        return entity.model_copy(update={"hung_on": face}) if face else entity

    def _stamp(self, entity: Entity) -> Entity:
        """Give times to an entity; creation times strictly grow, so that they also order entities."""
        text = _time_text(self._clock())
        if entity.created:
            return entity.model_copy(update={"changed": text})
        if instant(text) <= instant(self._last):
            text = _just_after(self._last)
        self._last = text
        return entity.model_copy(update={"created": text, "changed": text})


def pictures_of(entities: Iterable[Entity]) -> set[str]:
    """The ids of the pictures that entities show."""
    photos = [e for e in entities if isinstance(e, Photo)]
    return {i for p in photos for i in (p.picture, p.original) if i}


def _with_times(entity: Entity) -> Entity:
    """The entity without what stands for a time in it and is none."""
    odd = odd_times(entity)
    return entity.model_copy(update={name: "" for name, _ in odd}) if odd else entity


def _age(entity: Entity) -> tuple[str, str]:
    return instant(entity.created), entity.id


def _groups_of(entity: Entity) -> set[str]:
    return {"", getattr(entity, "axis_id", "")}


def _just_after(text: str) -> str:
    """A time that sorts after ``text``, also where that is the last moment there is, or no time at all."""
    try:
        return _time_text(datetime.fromisoformat(text) + timedelta(microseconds=1))
    except (ValueError, OverflowError):
        return text + "+"


def _time_text(moment: datetime) -> str:
    return moment.isoformat(timespec="microseconds")
