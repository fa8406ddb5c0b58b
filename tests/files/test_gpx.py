"""Tracks: heart rate whatever its extension is called, and XML that means harm."""

import numpy as np
import pytest

from uvren.files.errors import BadFile
from uvren.files.gpx import Track, read_gpx, write_gpx

POINT = """<trkpt lat="{lat}" lon="10.0"><time>2026-03-11T18:00:0{n}Z</time>{more}</trkpt>"""


def gpx(points, head=""):
    return f"""<?xml version="1.0"?>{head}<gpx version="1.1" creator="test" xmlns="http://www.topografix.com/GPX/1/1"
      xmlns:a="urn:one" xmlns:b="urn:two"><trk><name>Loop</name><trkseg>{points}</trkseg></trk></gpx>"""


@pytest.fixture
def write(tmp_path):
    def put(text):
        path = tmp_path / "track.gpx"
        path.write_text(text, encoding="utf-8")
        return path

    return put


def test_heart_rate_is_read_by_its_local_name(write):
    extensions = [
        "<extensions><a:hr>140</a:hr></extensions>",
        "<extensions><b:Box><b:HeartRate>141</b:HeartRate></b:Box></extensions>",
        "<extensions><a:temp>12</a:temp></extensions>",
        "",
    ]
    points = "".join(POINT.format(lat=59 + n / 1000, n=n, more=more) for n, more in enumerate(extensions))
    track = read_gpx(write(gpx(points)))
    assert track.name == "Loop"
    assert np.nan_to_num(track.heart_rate, nan=-1).tolist() == [140, 141, -1, -1]
    assert np.diff(track.seconds).tolist() == [1, 1, 1]
    assert track.latitude[1] == pytest.approx(59.001)


def test_what_is_written_reads_back(tmp_path):
    track = Track("Loop", np.array([1773248400.0, 1773248401.0]), np.array([59.0, 59.1]), np.array([10.0, 10.0]),
                  np.array([140.0, np.nan]))  # fmt: skip
    path = tmp_path / "out.gpx"
    path.write_text(write_gpx(track), encoding="utf-8")
    back = read_gpx(path)
    np.testing.assert_array_equal(back.seconds, track.seconds)
    np.testing.assert_array_equal(back.heart_rate, track.heart_rate)


def test_an_xml_bomb_is_not_unfolded(write):
    bomb = '<!DOCTYPE gpx [<!ENTITY a "ha"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;"><!ENTITY c "&b;&b;&b;&b;&b;&b;">]>'
    with pytest.raises(BadFile, match="entities"):
        read_gpx(write(gpx("&c;", bomb)))


def test_an_outside_entity_is_not_fetched(write):
    head = '<!DOCTYPE gpx [<!ENTITY x SYSTEM "file:///etc/hostname">]>'
    with pytest.raises(BadFile, match="entities"):
        read_gpx(write(gpx("&x;", head)))


@pytest.mark.parametrize("text", ["<gpx><trk>", "<kml></kml>", gpx("")])
def test_half_a_track_another_format_and_no_points_are_refused(write, text):
    with pytest.raises(BadFile):
        read_gpx(write(text))
