"""What the log says of batches: what may have gone wrong, what differs, what is on trial."""

from collections.abc import Iterable
from datetime import datetime

from pydantic import Field

from gullpeak.app.errors import BadFieldError
from gullpeak.core.bench import run
from gullpeak.core.log import record, trial
from gullpeak.core.log.card import Stretch
from gullpeak.core.log.trial import Trial
from gullpeak.core.recipe import faults
from gullpeak.core.recipe.faults import Diagnosis, FactRule, rules
from gullpeak.core.value import Key, Said, Text, Value, say
from gullpeak.store.log import Log, Traced
from gullpeak.store.repository import Store
from gullpeak.store.trials import Trials


class Laid(Value):
    """A batch to be laid over others."""

    id: str
    name: str
    started_at: datetime
    cook: str
    score: int | None
    faults: tuple[str, ...]
    strip: tuple[Stretch, ...]
    lines: tuple[Traced, ...]
    facts: dict[str, Said] = Field(description="What its record says, in words")


class Overlay(Value):
    """Batches laid over each other, and what differs between them: names of facts."""

    batches: tuple[Laid, ...]
    differs: dict[str, Said]


class Told(Value):
    """Something the record says. recalled: the cook told it afterwards."""

    fact: Key
    says: Said
    recalled: bool


class Recall(Value):
    """Something that was not recorded and would help: answered by yes and no, by a figure, or by one of some words."""

    fact: Key
    rule: FactRule
    words: tuple[str, ...]


class DiagnosisView(Value):
    """What may have gone wrong with a batch. `accepted`: changes that came of it; `tried`: those it was made with."""

    diagnosis: Diagnosis
    record: tuple[Told, ...]
    questions: tuple[Recall, ...]
    accepted: tuple[Trial, ...]
    tried: tuple[Trial, ...]


class TrialRequest(Value):
    """Accept the change of a cause. `id` is made by the device; says: in the cook's own words."""

    id: Key
    cause: Key
    says: Text = ""
    cook: str = Field("", max_length=120)


def diagnosis_of(store: Store, batch_id: str) -> DiagnosisView:
    """Say what may have gone wrong with a finished batch, with the evidence, and what to try next time."""
    batch, kept = store.batch(batch_id), Trials(store)
    events = [e.event for e in store.events(batch_id)]
    outcome = run.fold(batch.process, events).finished
    facts = Log(store.db).facts(batch_id)
    found = faults.diagnose(() if outcome is None else outcome.faults, facts)
    recalled = record.told(run.standing(events))
    wanted = [
        t.fact for f in found.findings[:6] for t in rules().causes[f.cause].evidence if t.weight > 0 and t.fact not in facts
    ]
    return DiagnosisView(
        diagnosis=found,
        record=tuple(Told(fact=_key(k), says=faults.tell(k, v), recalled=k in recalled) for k, v in facts.items()),
        questions=tuple(Recall(fact=_key(k), rule=rules().facts[k], words=faults.words(k)) for k in dict.fromkeys(wanted)),
        accepted=kept.from_batch(batch_id),
        tried=kept.for_batch(batch.recipe_id, batch.started_at, batch_id),
    )


def _key(fact: str) -> str:
    return fact.replace("_", "-")


def _differs(key: str, known: list[dict[str, faults.Fact]]) -> bool:
    """Whether batches say different things of a fact, more than rounding."""
    values = [f.get(key) for f in known]
    figures = [float(v) for v in values if isinstance(v, int | float) and not isinstance(v, bool)]
    if len(figures) == len(values):
        return max(figures) - min(figures) > 0.05 * max(1e-9, abs(max(figures, key=abs)))
    return len(set(values)) > 1


def overlay(store: Store, ids: Iterable[str]) -> Overlay:
    """Lay batches over each other: strips of steps, planned and done, traces, and what differs. Raises NotFoundError."""
    kept = Log(store.db)
    laid, known = [], []
    for batch_id in dict.fromkeys(ids):
        card, facts, strip = kept.entry(batch_id)
        known.append(facts)
        laid.append(
            Laid(
                id=batch_id,
                name=card.name,
                started_at=card.started_at,
                cook=card.cook,
                score=None if card.outcome is None else card.outcome.score,
                faults=() if card.outcome is None else card.outcome.faults,
                strip=strip.steps,
                lines=kept.lines(batch_id, card.started_at, strip.watches),
                facts={k: faults.tell(k, v) for k, v in facts.items()},
            )
        )
    every = {k for f in known for k in f}
    differs = {k: rules().facts[k].name or rules().facts[k].yes for k in rules().facts if k in every and _differs(k, known)}
    return Overlay(batches=tuple(laid), differs=differs)


def accept(store: Store, batch_id: str, asked: TrialRequest) -> DiagnosisView:
    """Put the change of a cause on trial: the next batches of the recipe meet it at its step. Raises BadFieldError."""
    batch = store.batch(batch_id)
    if batch.recipe_id is None:
        raise BadFieldError("cause", say("refused.recipe-batch-book-save"))
    found = next((f for f in diagnosis_of(store, batch_id).diagnosis.findings if f.cause == asked.cause), None)
    if found is None:
        raise BadFieldError("cause", say("refused.cause-faults-noted-choose"))
    Trials(store).add(trial.of(found, asked.id, batch.recipe_id, batch_id, store.now(), asked.says, asked.cook))
    return diagnosis_of(store, batch_id)
