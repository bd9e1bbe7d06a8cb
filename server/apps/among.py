"""``pk__among=keys``: as ``in``, for many whole numbers that are keys.

Django passes each value of ``in`` through the field and sends it as a parameter; a page asks with hundreds of
keys, several times over. These are written into the query as what they are. Nothing but whole numbers gets
there.
"""

from collections.abc import Iterable
from typing import Any

from django.core.exceptions import EmptyResultSet
from django.db.models import ForeignKey, IntegerField, Lookup


@IntegerField.register_lookup
@ForeignKey.register_lookup
class Among(Lookup):
    """Whether a key is one of some; raises ``TypeError`` for one that is no whole number."""

    lookup_name = "among"
    prepare_rhs = False

    def __init__(self, lhs: Any, rhs: Iterable[int]):
        keys = dict.fromkeys(rhs)
        if not all(type(key) is int for key in keys):
            raise TypeError("keys are whole numbers")
        super().__init__(lhs, tuple(keys))

    def as_sql(self, compiler: Any, connection: Any) -> tuple[str, tuple[str | int, ...]]:
        """``column IN (1,2,3)``."""
        if not self.rhs:
            raise EmptyResultSet
        left, parameters = self.process_lhs(compiler, connection)
        return f"{left} IN ({','.join(map(str, self.rhs))})", tuple(parameters)
