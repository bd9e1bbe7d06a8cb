"""The base of what the API takes and gives."""

from typing import Any

from ninja import Schema as NinjaSchema
from ninja.schema import DjangoGetter
from pydantic import ModelWrapValidatorHandler, ValidationInfo, model_validator


class Schema(NinjaSchema):
    """As ninja's, without its detour for what is plain already.

    Ninja reads every value through a getter for Django's records. What is a mapping, or an answer
    of this class, needs none: long answers are made once, not twice.
    """

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
