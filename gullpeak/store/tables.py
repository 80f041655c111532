"""The tables. Documents are core models as JSON; what is searched or sorted by has a column of its own."""

from datetime import UTC, datetime

from sqlalchemy import DateTime, Dialect, Float, ForeignKey, Index, Text, TypeDecorator
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class UtcTime(TypeDecorator[datetime]):
    """A moment, kept as UTC without a zone, since SQLite has none."""

    impl = DateTime
    cache_ok = True

    def process_bind_param(self, value: datetime | None, _dialect: Dialect) -> datetime | None:
        """Moments go in as UTC."""
        return None if value is None else value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, _dialect: Dialect) -> datetime | None:
        """Moments come out as UTC."""
        return None if value is None else value.replace(tzinfo=UTC)


class Base(DeclarativeBase):
    """All tables."""


class PulseRow(Base):
    """The moment of the last write that was made only to see whether writes reach the disk."""

    __tablename__ = "pulse"
    id: Mapped[int] = mapped_column(primary_key=True)
    at: Mapped[datetime] = mapped_column(UtcTime)


class KitchenRow(Base):
    """The one kitchen."""

    __tablename__ = "kitchen"
    id: Mapped[int] = mapped_column(primary_key=True)
    version: Mapped[int]
    doc: Mapped[str] = mapped_column(Text)


class RecipeRow(Base):
    """A recipe or a product, by its newest version: they share their ids, since a part may be either."""

    __tablename__ = "recipe"
    id: Mapped[str] = mapped_column(primary_key=True)
    version: Mapped[int]
    kind: Mapped[str] = mapped_column(server_default="recipe", index=True)
    archived_at: Mapped[datetime | None] = mapped_column(UtcTime)


class RecipeVersionRow(Base):
    """One version of a recipe or product; never changed once written."""

    __tablename__ = "recipe_version"
    recipe_id: Mapped[str] = mapped_column(ForeignKey("recipe.id"), primary_key=True)
    version: Mapped[int] = mapped_column(primary_key=True)
    doc: Mapped[str] = mapped_column(Text)
    saved_at: Mapped[datetime] = mapped_column(UtcTime)


class DraftRow(Base):
    """What is being written of an entry on a tablet, and of which version of it; its document as the tablet has it."""

    __tablename__ = "draft"
    tablet: Mapped[str] = mapped_column(primary_key=True)
    entry_id: Mapped[str] = mapped_column(primary_key=True)
    version: Mapped[int]
    saved_at: Mapped[datetime] = mapped_column(UtcTime)
    doc: Mapped[str] = mapped_column(Text)


class BatchRow(Base):
    """A batch with the recipe, kitchen, sheet and process it was started from."""

    __tablename__ = "batch"
    id: Mapped[str] = mapped_column(primary_key=True)
    recipe_id: Mapped[str | None] = mapped_column(ForeignKey("recipe.id"), index=True)
    recipe_version: Mapped[int | None]
    name: Mapped[str]
    started_at: Mapped[datetime] = mapped_column(UtcTime, index=True)
    finished_at: Mapped[datetime | None] = mapped_column(UtcTime, index=True)
    kitchen: Mapped[str] = mapped_column(Text)
    sheet: Mapped[str] = mapped_column(Text)
    process: Mapped[str] = mapped_column(Text)


class EventRow(Base):
    """Something that happened. Appended, never changed."""

    __tablename__ = "event"
    seq: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    id: Mapped[str] = mapped_column(unique=True)
    batch_id: Mapped[str] = mapped_column(ForeignKey("batch.id"))
    kind: Mapped[str]
    at: Mapped[datetime] = mapped_column(UtcTime)
    received_at: Mapped[datetime] = mapped_column(UtcTime)
    doc: Mapped[str] = mapped_column(Text)
    __table_args__ = (Index("event_by_batch", "batch_id", "seq"),)


class DeviceRow(Base):
    """A probe, scale or oven thermometer that may speak to the app."""

    __tablename__ = "device"
    id: Mapped[str] = mapped_column(primary_key=True)
    name: Mapped[str]
    kind: Mapped[str]
    token_hash: Mapped[str] = mapped_column(unique=True)
    seen_at: Mapped[datetime | None] = mapped_column(UtcTime)
    probe: Mapped[str | None]
    """The key of the kitchen's thermometer that it is."""
    retired_at: Mapped[datetime | None] = mapped_column(UtcTime)
    """Its token opens nothing since; its readings stay."""


class AttachmentRow(Base):
    """A device put to a trace of a batch, since when and until when."""

    __tablename__ = "attachment"
    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    device_id: Mapped[str] = mapped_column(ForeignKey("device.id"), index=True)
    batch_id: Mapped[str] = mapped_column(ForeignKey("batch.id"), index=True)
    watch: Mapped[str]
    since: Mapped[datetime] = mapped_column(UtcTime)
    until: Mapped[datetime | None] = mapped_column(UtcTime)


class SampleRow(Base):
    """A reading of a device, numbered by it. Never changed; `doubt` says why it is not counted."""

    __tablename__ = "sample"
    device_id: Mapped[str] = mapped_column(ForeignKey("device.id"), primary_key=True)
    n: Mapped[int] = mapped_column(primary_key=True)
    attachment_id: Mapped[int] = mapped_column(ForeignKey("attachment.id"))
    at: Mapped[datetime] = mapped_column(UtcTime)
    received_at: Mapped[datetime] = mapped_column(UtcTime)
    value: Mapped[float] = mapped_column(Float)
    doubt: Mapped[str | None]
    # What a trace is drawn from is all in the index: a long one is read without touching the table.
    __table_args__ = (Index("sample_by_attachment", "attachment_id", "at", "value", "doubt"), {"sqlite_with_rowid": False})


class WeighedTrayRow(Base):
    """A tray weighed as it dries, to calibrate its oven."""

    __tablename__ = "weighed_tray"
    id: Mapped[str] = mapped_column(primary_key=True)
    version: Mapped[int]
    begun_at: Mapped[datetime] = mapped_column(UtcTime)
    doc: Mapped[str] = mapped_column(Text)


class DayRow(Base):
    """A day: its orders and hands, by its date."""

    __tablename__ = "day"
    date: Mapped[str] = mapped_column(primary_key=True)
    version: Mapped[int]
    doc: Mapped[str] = mapped_column(Text)


class PlanRow(Base):
    """A plan of a day: the one in force, or one put beside it."""

    __tablename__ = "plan"
    date: Mapped[str] = mapped_column(ForeignKey("day.date"), primary_key=True)
    role: Mapped[str] = mapped_column(primary_key=True)
    doc: Mapped[str] = mapped_column(Text)


class MarkRow(Base):
    """What was said of a step of a day. Appended, never changed."""

    __tablename__ = "mark"
    seq: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    id: Mapped[str] = mapped_column(unique=True)
    date: Mapped[str] = mapped_column(ForeignKey("day.date"), index=True)
    received_at: Mapped[datetime] = mapped_column(UtcTime)
    doc: Mapped[str] = mapped_column(Text)


class DayBatchRow(Base):
    """A batch at the bench that does a thread of a day."""

    __tablename__ = "day_batch"
    date: Mapped[str] = mapped_column(ForeignKey("day.date"), primary_key=True)
    thread: Mapped[str] = mapped_column(primary_key=True)
    batch_id: Mapped[str] = mapped_column(ForeignKey("batch.id"))


class EggRow(Base):
    """Egg that came in, was used, was freed or was lost. Appended, never changed."""

    __tablename__ = "egg"
    seq: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    id: Mapped[str] = mapped_column(unique=True)
    lot: Mapped[str] = mapped_column(index=True)
    received_at: Mapped[datetime] = mapped_column(UtcTime)
    doc: Mapped[str] = mapped_column(Text)


class StockRow(Base):
    """Something made that was stored, moved, taken or lost. Appended, never changed."""

    __tablename__ = "stock"
    seq: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    id: Mapped[str] = mapped_column(unique=True)
    lot: Mapped[str] = mapped_column(index=True)
    received_at: Mapped[datetime] = mapped_column(UtcTime)
    doc: Mapped[str] = mapped_column(Text)


class PictureRow(Base):
    """A photograph of a batch; the picture itself is a file beside the database, under its id."""

    __tablename__ = "picture"
    id: Mapped[str] = mapped_column(primary_key=True)
    batch_id: Mapped[str] = mapped_column(ForeignKey("batch.id"), index=True)
    at: Mapped[datetime] = mapped_column(UtcTime)
    sent_sha256: Mapped[str]
    """Of what was sent, before it was scaled down: the same sent again is the same picture"""
    sha256: Mapped[str]
    """Of the file"""
    doc: Mapped[str] = mapped_column(Text)


class LogRow(Base):
    """A finished batch as the log lists it. Made anew from its events whenever they change."""

    __tablename__ = "log"
    batch_id: Mapped[str] = mapped_column(ForeignKey("batch.id"), primary_key=True)
    finished_at: Mapped[datetime] = mapped_column(UtcTime)
    recipe_id: Mapped[str | None]
    name: Mapped[str]
    school: Mapped[str]
    cook: Mapped[str]
    oven: Mapped[str]
    score: Mapped[int]
    loss_share: Mapped[float | None] = mapped_column(Float)
    took_min: Mapped[float | None] = mapped_column(Float)
    heat_min: Mapped[float | None] = mapped_column(Float)
    waste: Mapped[float | None] = mapped_column(Float)
    eggs: Mapped[int | None]
    base_g: Mapped[float] = mapped_column(Float)
    facts: Mapped[str] = mapped_column(Text)
    observed: Mapped[str | None] = mapped_column(Text)
    card: Mapped[str] = mapped_column(Text)
    strip: Mapped[str] = mapped_column(Text)
    __table_args__ = (
        Index("log_by_end", "finished_at", "batch_id"),
        Index("log_by_recipe", "recipe_id", "finished_at"),
        Index("log_by_cook", "cook", "finished_at"),
        Index("log_by_oven", "oven", "finished_at"),
        Index("log_by_school", "school", "finished_at"),
        Index("log_by_score", "score", "finished_at"),
    )


class LogFaultRow(Base):
    """A fault noted of a finished batch."""

    __tablename__ = "log_fault"
    fault: Mapped[str] = mapped_column(primary_key=True)
    batch_id: Mapped[str] = mapped_column(ForeignKey("log.batch_id", ondelete="CASCADE"), primary_key=True)


class TrialRow(Base):
    """A change a cook accepted for the next batches of a recipe, until it is found to help or not."""

    __tablename__ = "trial"
    id: Mapped[str] = mapped_column(primary_key=True)
    recipe_id: Mapped[str] = mapped_column(ForeignKey("recipe.id"), index=True)
    batch_id: Mapped[str] = mapped_column(ForeignKey("batch.id"), index=True)
    accepted_at: Mapped[datetime] = mapped_column(UtcTime)
    verdict: Mapped[str | None]
    judged_at: Mapped[datetime | None] = mapped_column(UtcTime)
    judged_in: Mapped[str | None]
    doc: Mapped[str] = mapped_column(Text)


class PracticeRow(Base):
    """A practice run: what was done, and how it came out."""

    __tablename__ = "practice"
    id: Mapped[str] = mapped_column(primary_key=True)
    drill: Mapped[str] = mapped_column(index=True)
    cook: Mapped[str]
    at: Mapped[datetime] = mapped_column(UtcTime)
    passed: Mapped[bool]
    doc: Mapped[str] = mapped_column(Text)
