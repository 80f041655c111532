"""The log: what was made, what went wrong and why, what is tried next."""

from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import Field

from gullpeak.api.places import StoreOf
from gullpeak.app import log as diagnosing
from gullpeak.app.log import DiagnosisView, Overlay, TrialRequest
from gullpeak.core.log.trial import Trial, Verdict
from gullpeak.core.value import Value
from gullpeak.store.log import Asked, Choices, Log, Page, TrendPoint
from gullpeak.store.trials import Trials

router = APIRouter(prefix="/api", tags=["log"])
MOST_LAID = 12
AskedFor = Annotated[Asked, Query()]


class Asking(Asked):
    """What is looked for, and from where on."""

    after: str | None = Field(None, max_length=80)
    size: int = Field(50, ge=1, le=200)


class VerdictRequest(Value):
    """Whether a change helped, by which batch; None puts it on trial again."""

    verdict: Verdict | None
    batch_id: str | None = Field(None, max_length=80)


@router.get("/log")
def log(asking: Annotated[Asking, Query()], store: StoreOf) -> Page:
    """List finished batches, newest first, a page at a time."""
    return Log(store.db).page(asking, asking.after, asking.size)


@router.get("/log/choices")
def choices(store: StoreOf) -> Choices:
    """Return what may be asked for."""
    return Log(store.db).choices()


@router.get("/log/trend")
def trend(asked: AskedFor, store: StoreOf) -> list[TrendPoint]:
    """Return the batches asked for as points of a trend, oldest first."""
    return list(Log(store.db).trend(asked))


@router.get("/log/overlay")
def overlay(ids: Annotated[list[str], Query(min_length=1, max_length=MOST_LAID)], store: StoreOf) -> Overlay:
    """Lay batches over each other: strips of steps, planned and done, traces, and what differs."""
    return diagnosing.overlay(store, ids)


@router.get("/batches/{batch_id}/diagnosis")
def diagnosis(batch_id: str, store: StoreOf) -> DiagnosisView:
    """Say what may have gone wrong with a finished batch, with the evidence, and what to try next time."""
    return diagnosing.diagnosis_of(store, batch_id)


@router.post("/batches/{batch_id}/trials", status_code=201)
def accept(batch_id: str, asked: TrialRequest, store: StoreOf) -> DiagnosisView:
    """Put the change of a cause on trial: the next batches of the recipe meet it at its step."""
    return diagnosing.accept(store, batch_id, asked)


@router.post("/trials/{trial_id}/verdict")
def judge(trial_id: str, asked: VerdictRequest, store: StoreOf) -> Trial:
    """Say whether a change helped."""
    if asked.batch_id is not None:
        store.batch(asked.batch_id)
    return Trials(store).judge(trial_id, asked.verdict, asked.batch_id)


@router.get("/recipes/{recipe_id}/trials")
def recipe_trials(recipe_id: str, store: StoreOf) -> list[Trial]:
    """Return the changes there were for a recipe, newest first; those without a verdict are on trial."""
    return list(Trials(store).of_recipe(recipe_id))
