"""Parquet files as they are opened: what is too large or no such file is said."""

from __future__ import annotations

from pathlib import Path

import pyarrow as pa
import pyarrow.parquet as papq

from uvren.files.errors import BadFile
from uvren.files.safety import MOST_ROWS, MOST_UNPACKED


def open_parquet(path: Path) -> papq.ParquetFile:
    """The file, if it is whole and of a sane size. Raises BadFile."""
    try:
        parquet = papq.ParquetFile(path)
    except (pa.ArrowException, OSError) as error:
        raise BadFile("The Parquet file is cut off or damaged.") from error
    if parquet.metadata.num_rows > MOST_ROWS:
        raise BadFile(f"The file has {parquet.metadata.num_rows:,} rows; {MOST_ROWS:,} is the most.")
    unpacked = sum(parquet.metadata.row_group(i).total_byte_size for i in range(parquet.metadata.num_row_groups))
    if unpacked > MOST_UNPACKED:
        raise BadFile("The file would unpack to more than a recording does. It was not opened.")
    return parquet
