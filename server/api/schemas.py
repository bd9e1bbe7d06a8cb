"""The base of what the API takes and gives."""

from collections.abc import Sequence
from typing import Any, ClassVar, TypeVar

from django.http import HttpResponse
from ninja import Schema as NinjaSchema
from ninja.schema import DjangoGetter
from pydantic import ModelWrapValidatorHandler, TypeAdapter, ValidationInfo, model_validator

Row = TypeVar("Row", bound="Schema")


class Schema(NinjaSchema):
    """As ninja's, without its detour for what is plain already.

    Ninja reads every value through a getter for Django's records. What is a mapping, or an answer
    of this class, needs none: long answers are made once, not twice. Each has a name of its own: of two
    with one name the API's document would tell only the last.
    """

    _names: ClassVar[dict[str, str]] = {}

    @classmethod
    def __pydantic_init_subclass__(cls, **more: Any) -> None:
        """Refuse a name that another shape has."""
        super().__pydantic_init_subclass__(**more)
        there = Schema._names.setdefault(cls.__name__, cls.__module__)
        if there != cls.__module__:
            raise TypeError(f"two shapes are called {cls.__name__}: {there} and {cls.__module__}")

    @model_validator(mode="wrap")
    @classmethod
    def _run_root_validator(
        cls, values: Any, handler: ModelWrapValidatorHandler[Any], info: ValidationInfo
    ) -> Any:
        if type(values) is cls:
            return values
        if isinstance(values, dict):
            return handler(values)
        return handler(DjangoGetter(values, cls, info.context))


def written(rows: Sequence[Row], writer: "TypeAdapter[list[Row]]") -> HttpResponse:
    """Thousands of rows as the answer, as it is: written in one go, where ninja takes them apart value by value."""
    return HttpResponse(
        writer.dump_json(list(rows)), content_type="application/json; charset=utf-8"
    )
