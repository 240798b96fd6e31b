"""The life of takes: begun, drawn frame by frame by whoever claims them, packed; cancelled, tried again.

    waiting → drawing → packing → done
       └──────┴─ cancelled    ├─ failed
              └─ lacking: some frames could not be drawn

A frame is claimed for a while by one worker, which says from time to time that it is still working. One that is no longer heard
from loses its claim to the next, so that every frame is drawn once and none is lost.
"""

from collections.abc import Iterable
from dataclasses import asdict
from datetime import timedelta
from typing import Any

from django.conf import settings
from django.db import transaction
from django.db.models import F, Max, Q
from django.dispatch import Signal
from django.utils import timezone

from heron.dailies.asked import Render
from heron.dailies.frames import Plan, plan
from heron.errors import NotFound, Refused
from heron.model import fingerprint
from heron.scene import Scene
from mellow.actors import Actor, permit
from mellow.dailies import media, queue, tasks
from mellow.dailies.models import Take, TakeFrame
from mellow.productions import models, rows, sounds

#: Sent with a take that was packed, or could not be.
ended = Signal()
#: A worker that packs begins, or begins again; sent with its `name`.
taking_up = Signal()
State, Of = Take.State, TakeFrame.State
#: A frame that so many workers began and none ended is not begun again.
TRIES = 3
GB = 1000**3
_AT_ONCE = 500


def lease_expiry() -> Any:
    """When what is claimed now lapses, unless more is heard."""
    return timezone.now() + timedelta(seconds=settings.LEASE_S)


def keys_of(made: Plan, render: Render) -> list[str]:
    """The names that frames' pictures are kept under: all they depend on, their size, and how they are drawn."""
    more = fingerprint(made.wide, made.high, render.drawn_as)[:8]
    return [frame.fingerprint + more for frame in made.frames]


def take_row(take_id: int) -> Take:
    """A take's row.

    Raises:
        NotFound: there is none.
    """
    found = Take.objects.select_related("author").filter(pk=take_id).first() if take_id < 2**63 else None
    if found is None:
        raise NotFound(f"There is no take {take_id}.", "Choose one from the list of takes.", field="take")
    return found


def planned(scene: Scene, render: Render) -> tuple[Plan, list[str]]:
    """A render frame by frame, and the names its pictures are kept under.

    Raises:
        HeronError: there is nothing to draw.
    """
    made = plan(scene, render)
    return made, keys_of(made, render)


def begin(row: models.Scene, render: Render, actor: Actor) -> Take:
    """Have a scene rendered as it is now: pictures that are there already are not drawn again.

    Raises:
        Refused: there is nothing to draw, or no room.
        NotWritten: the media folder cannot be written.
    """
    permit(actor, "edit")
    scene = rows.load(row)
    made, keys = planned(scene, render)
    if render.movie and render.of == "cut" and (silent := sounds.missing(scene)):
        made.said.append(
            f"The files of these sounds are not here, so the movie is without them: {', '.join(silent)}."
        )
    with media.writing("The render"):
        media.folder(0).parent.mkdir(parents=True, exist_ok=True)
    handed = media.used()[1]
    if handed > settings.MEDIA_GB * GB:
        raise Refused(
            f"Renders take up {handed / GB:.1f} of {settings.MEDIA_GB:g} GB.",
            "Delete some takes, or give the server more room (MELLOW_MEDIA_GB).",
        )
    kept = {key for key in media.listed(keys) if media.there(key)}
    with transaction.atomic():
        number = (Take.objects.filter(scene=row).aggregate(last=Max("number"))["last"] or 0) + 1
        take = Take.objects.create(
            scene=row, frozen=rows.freeze(row), number=number, revision=row.revision, author=actor.user,
            note=render.note, render=render.model_dump(mode="json"), wide=made.wide, high=made.high,
            movie=made.movie, said=made.said,
        )  # fmt: skip
        TakeFrame.objects.bulk_create(
            (
                TakeFrame(
                    take=take, place=i, cut=one.cut, shot=one.shot, letter=one.camera, camera=made.camera_ids[i],
                    stage=one.stage, name=one.name, slate=made.slates[i],
                    mixed=asdict(one.mixed) if one.mixed else None, picture=one.fingerprint, key=key,
                    state=Of.DONE if key in kept else Of.WAITING, reused=key in kept,
                )
                for i, (one, key) in enumerate(zip(made.frames, keys, strict=True))
            ),
            batch_size=_AT_ONCE,
        )  # fmt: skip
    enqueue(take)
    return take


def enqueue(take: Take) -> None:
    """Send a worker to it: to draw what is left, or to pack it if nothing is."""
    sync_state(take)
    if take.state == State.PACKING:
        took = queue.put(tasks.pack, take.pk)
    elif take.state in (State.WAITING, State.DRAWING):
        took = queue.put(tasks.draw, take.pk, take.frozen_id, take.wide, take.high)
    else:
        return
    reason = "" if took else "The queue of work does not answer. See to it, then carry on."
    Take.objects.filter(pk=take.pk).update(reason=reason)


def sync_state(take: Take) -> None:
    """Note what follows from the state of its frames: all done, or some that cannot be."""
    if take.frames.filter(state__in=(Of.WAITING, Of.CLAIMED)).exists():
        return
    to = State.LACKING if take.frames.filter(state=Of.FAILED).exists() else State.PACKING
    ended = timezone.now() if to == State.LACKING else None
    moved = Take.objects.filter(pk=take.pk, state__in=(State.WAITING, State.DRAWING)).update(
        state=to, ended=ended, packed=0, until=None
    )
    if moved:
        take.state = to


def claim(take: Take, by: str, count: int) -> list[TakeFrame]:
    """Some frames that nobody draws, for a worker to draw; none when there are none now, or it was cancelled."""
    now = timezone.now()
    with transaction.atomic():
        if Take.objects.get(pk=take.pk).state not in (State.WAITING, State.DRAWING):
            return []
        # One that ends too late was given by a clock that has been set back since.
        ahead = now + timedelta(seconds=2 * settings.LEASE_S)
        lapsed = Q(state=Of.CLAIMED) & (Q(until__lt=now) | Q(until__gt=ahead))
        open_ = take.frames.filter(Q(state=Of.WAITING) | lapsed)
        for one in open_.filter(tries__gte=TRIES):
            _fail(one, f"It was begun {TRIES} times, and each time whoever drew it stopped.")
        # The same picture is drawn by one at a time, for whichever take.
        busy = set(
            TakeFrame.objects.filter(state=Of.CLAIMED, until__gte=now, until__lte=ahead).values_list(
                "key", flat=True
            )
        )
        found: list[TakeFrame] = []
        for one in open_.filter(tries__lt=TRIES).order_by("place")[: count + len(busy) + 1]:
            if one.key not in busy and len(found) < count:
                busy.add(one.key)
                found.append(one)
        ids = [one.pk for one in found]
        TakeFrame.objects.filter(pk__in=ids).update(
            state=Of.CLAIMED, by=by, until=lease_expiry(), tries=F("tries") + 1
        )
        if found:
            Take.objects.filter(pk=take.pk).update(state=State.DRAWING, reason="")
    finish(take)
    return found


def heartbeat(take: Take, by: str) -> bool:
    """A worker says that it is still working. Returns whether it is still wanted."""
    take.frames.filter(state=Of.CLAIMED, by=by).update(until=lease_expiry())
    return Take.objects.filter(pk=take.pk, state__in=(State.WAITING, State.DRAWING)).exists()


def drawn(take: Take, place: int, content: bytes) -> None:
    """Take in a frame's picture, for every take that waits for the same one.

    A picture that is kept already stays: one that comes late, or from somebody whose claim has lapsed, changes nothing.

    Raises:
        NotFound, BadInput, NotWritten: there is no such frame, it is not a picture, it cannot be kept.
    """
    frame = _frame(take, place)
    if frame.state == Of.DONE and media.there(frame.key):
        return
    media.keep(frame.key, content, take.wide, take.high)
    now = timezone.now()
    waits = TakeFrame.objects.filter(key=frame.key).exclude(state=Of.DONE)
    others = set(waits.exclude(take=take).values_list("take", flat=True))
    waits.filter(take=take, place=place).update(state=Of.DONE, until=None, done_at=now, reason="")
    waits.update(state=Of.DONE, until=None, reused=True, reason="")
    finish(take, *Take.objects.filter(pk__in=others))


def cannot(take: Take, place: int, reason: str) -> None:
    """Note that a frame could not be drawn, and why; the others go on."""
    _fail(_frame(take, place), reason[:500])
    finish(take)


def finish(*takes: Take) -> None:
    """Pack whatever has all its frames now."""
    for take in takes:
        take.refresh_from_db()
        was = take.state
        sync_state(take)
        if take.state == State.PACKING and was != State.PACKING:
            enqueue(take)


def release(by: str) -> int:
    """What a worker of that name had claimed before it began again is for anybody; how many frames."""
    return TakeFrame.objects.filter(state=Of.CLAIMED, by=by).update(state=Of.WAITING, by="", until=None)


def cancel(takes: Iterable[Take]) -> None:
    """Have them no longer drawn or packed; what was drawn stays."""
    for take in takes:
        done = Take.objects.filter(pk=take.pk, state__in=Take.UNFINISHED).update(
            state=State.CANCELLED, ended=timezone.now(), reason=""
        )
        if done:
            take.frames.filter(state=Of.CLAIMED).update(state=Of.WAITING, by="", until=None)


def again(take: Take) -> None:
    """Carry on with it: what was not drawn, or failed, is tried again; what was drawn is not.

    Raises:
        Refused: it is under way, or done.
    """
    if take.state == State.DONE:
        raise Refused("This take is done.", "Render once more for a new one.")
    if take.state == State.PACKING and take.until and take.until > timezone.now():
        raise Refused("This take is being packed.", "It is done in a moment.")
    gone = [frame.pk for frame in take.frames.filter(state=Of.DONE) if not media.there(frame.key)]
    for some in range(0, len(gone), _AT_ONCE):
        TakeFrame.objects.filter(pk__in=gone[some : some + _AT_ONCE]).update(state=Of.WAITING, reused=False)
    take.frames.filter(state=Of.FAILED).update(state=Of.WAITING, tries=0, reason="")
    take.frames.filter(state=Of.WAITING).update(tries=0)
    Take.objects.filter(pk=take.pk).update(state=State.WAITING, reason="", ended=None, until=None, packed=0)
    take.refresh_from_db()
    enqueue(take)


def delete(take: Take) -> None:
    """Delete a take, what it handed over, and the frozen scene if no other take shows it."""
    cancel([take])
    frozen = take.frozen
    take.delete()
    if not Take.objects.filter(frozen=frozen).exists():
        rows.delete(frozen)


def unfinished() -> Any:
    """Takes that are to be drawn or packed, the oldest first."""
    return Take.objects.filter(state__in=Take.UNFINISHED).order_by("at")


def wanted_keys() -> set[str]:
    """Names of pictures that a take under way needs."""
    return set(TakeFrame.objects.filter(take__state__in=Take.UNFINISHED).values_list("key", flat=True))


def shown_keys() -> set[str]:
    """Names of pictures whose proofs a take shows."""
    return set(TakeFrame.objects.filter(state=Of.DONE).values_list("key", flat=True))


def _frame(take: Take, place: int) -> TakeFrame:
    found = take.frames.filter(place=place).first()
    if found is None:
        raise NotFound(f"Take {take.number} has no frame {place}.", "Ask for those it has.")
    return found


def _fail(frame: TakeFrame, reason: str) -> None:
    TakeFrame.objects.filter(pk=frame.pk).exclude(state=Of.DONE).update(
        state=Of.FAILED, until=None, reason=reason
    )
