"""Samples packed for keeping: Parquet, compressed, a column each."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.parquet as papq

from uvren.files.arrow import to_numpy

Floats = np.ndarray[Any, np.dtype[np.float64]]


def pack(columns: dict[str, Floats]) -> bytes:
    """Columns of one length as Parquet. Times and readings of sensors repeat themselves: they shrink well."""
    buffer = io.BytesIO()
    papq.write_table(pa.table(columns), buffer, compression="zstd", use_dictionary=True, write_statistics=False)
    return buffer.getvalue()


def unpack(data: bytes) -> dict[str, Floats]:
    """The columns that were packed."""
    # Reading it as a data set, which a whole folder could be, takes twice as long.
    table = papq.ParquetFile(pa.BufferReader(data)).read(use_threads=False)
    return {name: to_numpy(table[name], np.nan) for name in table.column_names}
