"""Practice: a bowl, a pan and a bath to get wrong safely, and peaks to read."""

from typing import Annotated

from fastapi import APIRouter, Body
from pydantic import Field

from gullpeak.api.places import StoreOf
from gullpeak.app.clock import speed_of
from gullpeak.app.errors import BadFieldError
from gullpeak.core import practice, refusal
from gullpeak.core.practice import DRILLS, Drill
from gullpeak.core.practice.base import LONGEST_S, Action, View
from gullpeak.core.value import Key, OutOfRangeError, Value, say
from gullpeak.store.practice import Practice, Progress, Run

router = APIRouter(prefix="/api/practice", tags=["practice"])
MOST_ACTIONS = 600


class DrillCard(Drill):
    """A drill and how it goes."""

    progress: Progress


class Playing(Value):
    """A run so far: what was done, and the moment that is looked at. asked: show the hidden figures."""

    drill: Key
    seed: int = Field(ge=0, le=2**31)
    actions: Annotated[tuple[Action, ...], Field(max_length=MOST_ACTIONS)] = ()
    until_s: float = Field(ge=0, le=LONGEST_S)
    asked: bool = False


class Keeping(Value):
    """Keep a run that has ended. `id` is made by the device."""

    id: Key
    drill: Key
    seed: int = Field(ge=0, le=2**31)
    actions: Annotated[tuple[Action, ...], Field(max_length=MOST_ACTIONS)]
    cook: str = Field("", max_length=120)


@router.get("")
def drills(store: StoreOf) -> list[DrillCard]:
    """List the drills and how each goes."""
    progress = Practice(store).progress()
    return [DrillCard(**d.model_dump(), progress=progress.get(d.key, Progress(runs=0, passed=0))) for d in DRILLS]


@router.post("/play")
def play(run: Playing, store: StoreOf) -> View:
    """Return a run at a moment. The same drill, seed and actions give the same run. It goes as much faster as the app's clock does."""
    view = _played(run.drill, run.seed, run.actions, run.until_s, run.asked)
    setup = view.setup.model_copy(update={"speed": view.setup.speed * speed_of(store.now)})
    return view.model_copy(update={"setup": setup})


@router.post("/runs", status_code=201)
def keep(run: Annotated[Keeping, Body()], store: StoreOf) -> Run:
    """Keep a run that has ended; it is judged here, not by the device."""
    view = _played(run.drill, run.seed, run.actions, LONGEST_S, False)
    if view.judgement is None:
        raise BadFieldError("actions", say("refused.run-has-ended-stop"))
    made = Run(**run.model_dump(exclude={"actions"}), actions=run.actions, at=store.now(), judgement=view.judgement)
    Practice(store).keep(made)
    return made


@router.get("/runs/{drill}")
def runs(drill: str, store: StoreOf) -> list[Run]:
    """Return the latest runs of a drill that were kept, newest first."""
    return list(Practice(store).runs(drill))


def _played(drill: str, seed: int, actions: tuple[Action, ...], until_s: float, asked: bool) -> View:
    try:
        return practice.play(drill, seed, actions, until_s, asked)
    except OutOfRangeError as error:
        raise BadFieldError("actions" if drill in {d.key for d in DRILLS} else "drill", refusal.why(error)) from error
