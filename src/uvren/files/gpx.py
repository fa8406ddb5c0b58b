"""GPX 1.1 tracks: in, with heart rate from any extension that names it; and out."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from xml.etree.ElementTree import ParseError

import gpxpy
import gpxpy.gpx
import numpy as np
from defusedxml import DefusedXmlException, ElementTree

from uvren.files.errors import BadFile
from uvren.files.safety import MOST_XML_BYTES, megabytes

Floats = np.ndarray[Any, np.dtype[np.float64]]

COLUMNS = ("time", "latitude", "longitude", "heart_rate")
_HEART_RATE = {"hr", "heartrate", "heart_rate", "heartratebpm"}


@dataclass(frozen=True)
class Track:
    """Points of a track: UTC seconds, degrees, beats a minute; nan where a point does not say."""

    name: str
    seconds: Floats
    latitude: Floats
    longitude: Floats
    heart_rate: Floats


def read_gpx(path: Path) -> Track:
    """All tracks of the file in one. Raises BadFile for broken XML, for entities, and for a file without points."""
    if path.stat().st_size > MOST_XML_BYTES:
        raise BadFile(f"A GPX file of more than {megabytes(MOST_XML_BYTES)} is not read.")
    text = path.read_bytes()
    try:
        # Entities and document types can make a small file unfold without end: neither has a place in a track.
        root = ElementTree.fromstring(text, forbid_dtd=True, forbid_entities=True, forbid_external=True)
    except DefusedXmlException as error:
        raise BadFile("The XML declares entities or a document type. A track has none; it was not read.") from error
    except (ParseError, ValueError) as error:
        raise BadFile("The GPX file is cut off or is no well-formed XML.") from error
    if _local(root.tag) != "gpx":
        raise BadFile("This XML file is no GPX file.")
    try:
        parsed = gpxpy.parse(text)
    except (gpxpy.gpx.GPXException, ValueError) as error:
        raise BadFile("The GPX file does not follow GPX 1.1.") from error
    points = [point for track in parsed.tracks for segment in track.segments for point in segment.points]
    if not points:
        raise BadFile("The GPX file holds no track points.")
    name = next((track.name for track in parsed.tracks if track.name), "")
    return Track(
        name=name,
        seconds=np.array([_seconds(point.time) for point in points]),
        latitude=np.array([point.latitude for point in points], dtype=np.float64),
        longitude=np.array([point.longitude for point in points], dtype=np.float64),
        heart_rate=np.array([_heart_rate(point.extensions) for point in points]),
    )


def _seconds(moment: datetime | None) -> float:
    if moment is None:
        return float("nan")
    return (moment if moment.tzinfo else moment.replace(tzinfo=UTC)).timestamp()


def _local(tag: Any) -> str:
    return str(tag).rpartition("}")[2]


def _heart_rate(extensions: Any) -> float:
    for extension in extensions:
        for element in extension.iter():
            if _local(element.tag).lower() in _HEART_RATE:
                try:
                    return float(element.text)
                except (TypeError, ValueError):
                    return float("nan")
    return float("nan")


def write_gpx(track: Track) -> str:
    """The track as GPX 1.1; heart rate as an extension of each point."""
    from xml.etree.ElementTree import Element

    out = gpxpy.gpx.GPX()
    out.creator = "Uvren"
    line = gpxpy.gpx.GPXTrack(name=track.name)
    part = gpxpy.gpx.GPXTrackSegment()
    out.tracks.append(line)
    line.segments.append(part)
    columns = (track.seconds, track.latitude, track.longitude, track.heart_rate)
    for seconds, latitude, longitude, heart_rate in zip(*(column.tolist() for column in columns), strict=True):
        point = gpxpy.gpx.GPXTrackPoint(latitude, longitude, time=datetime.fromtimestamp(seconds, UTC))
        if heart_rate == heart_rate:
            element = Element("hr")
            element.text = f"{heart_rate:g}"
            point.extensions.append(element)
        part.points.append(point)
    return str(out.to_xml("1.1"))
