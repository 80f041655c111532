"""The unit of temperature in which what is being written out is to be told."""

from contextvars import ContextVar

from gullpeak.core.kitchen.degrees import Unit

UNIT: ContextVar[Unit] = ContextVar("degrees", default="C")
