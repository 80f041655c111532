"""The server's description of itself, with what the models say of their fields: read from their docstrings only when it is asked for."""

import ast
import inspect
import textwrap
from collections.abc import Iterator
from itertools import pairwise
from typing import Any

from fastapi import FastAPI

from gullpeak.core.value import Value


class Described(FastAPI):
    """An app whose description tells of every field what stands under it in the code."""

    def openapi(self) -> dict[str, Any]:
        """Return the description, as OpenAPI."""
        fresh = self.openapi_schema is None
        told = super().openapi()
        schemas = told["components"]["schemas"]
        for model in _below(Value) if fresh else ():
            properties = schemas.get(model.__name__, {}).get("properties", {})
            for field, says in _fields(model):
                if field in properties:
                    properties[field].setdefault("description", says)
        return told


def _below(model: type[Value]) -> Iterator[type[Value]]:
    for found in model.__subclasses__():
        yield found
        yield from _below(found)


def _fields(model: type[Value]) -> Iterator[tuple[str, str]]:
    """Each field of a model with the docstring under it."""
    (body,) = ast.parse(textwrap.dedent(inspect.getsource(model))).body
    assert isinstance(body, ast.ClassDef)
    for field, under in pairwise(body.body):
        match field, under:
            case ast.AnnAssign(target=ast.Name(id=name)), ast.Expr(value=ast.Constant(value=str(says))):
                yield name, inspect.cleandoc(says)
