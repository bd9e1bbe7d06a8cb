"""Reading what people paste: tables of any shape, numbers of any habit."""

from routecore.reading.numbers import NumberStyle, read_number, style_of
from routecore.reading.rows import ReadRow, read_rows

__all__ = ["NumberStyle", "ReadRow", "read_number", "read_rows", "style_of"]
