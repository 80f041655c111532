"""The tables. Documents are core models as JSON; what is searched or sorted by has a column of its own."""

from datetime import UTC, datetime

from sqlalchemy import DateTime, Dialect, ForeignKey, Index, Text, TypeDecorator
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class UtcTime(TypeDecorator[datetime]):
    """A moment, kept as UTC without a zone, since SQLite has none."""

    impl = DateTime
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        """Moments go in as UTC."""
        return None if value is None else value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        """Moments come out as UTC."""
        return None if value is None else value.replace(tzinfo=UTC)


class Base(DeclarativeBase):
    """All tables."""


class KitchenRow(Base):
    """The one kitchen."""

    __tablename__ = "kitchen"
    id: Mapped[int] = mapped_column(primary_key=True)
    version: Mapped[int]
    doc: Mapped[str] = mapped_column(Text)


class RecipeRow(Base):
    """A recipe, by its newest version."""

    __tablename__ = "recipe"
    id: Mapped[str] = mapped_column(primary_key=True)
    version: Mapped[int]


class RecipeVersionRow(Base):
    """One version of a recipe; never changed once written."""

    __tablename__ = "recipe_version"
    recipe_id: Mapped[str] = mapped_column(ForeignKey("recipe.id"), primary_key=True)
    version: Mapped[int] = mapped_column(primary_key=True)
    doc: Mapped[str] = mapped_column(Text)
    saved_at: Mapped[datetime] = mapped_column(UtcTime)


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
