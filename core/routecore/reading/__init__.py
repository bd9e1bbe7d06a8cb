"""Reading what people paste: tables of any shape, numbers of any habit."""

from routecore.reading.numbers import (
    NumberReading,
    NumberStyle,
    ReadNumber,
    read_number,
    readings_of,
    style_of,
)
from routecore.reading.rows import Reading, ReadRow, read_rows

__all__ = [
    "NumberReading",
    "NumberStyle",
    "ReadNumber",
    "ReadRow",
    "Reading",
    "read_number",
    "read_rows",
    "readings_of",
    "style_of",
]
