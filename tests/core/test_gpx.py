"""Recordings in GPX: heart rates in the extensions of the track points, the way from latitude and longitude."""

from __future__ import annotations

import sys
from dataclasses import replace
from datetime import UTC, datetime, timedelta

import pytest
from oaken.basis.faults import FaultyInput
from oaken.heart_data.calibration import calibrate
from oaken.heart_data.calibration.own_demand import judge_heart
from oaken.heart_data.calibration.table import as_table
from oaken.heart_data.recordings import read_recording
from oaken.heart_data.recordings.xml_files import metres_between

BEGAN = datetime(2026, 11, 20, 18, 30, tzinfo=UTC)


def gpx(points: str, sport: str = "running") -> bytes:
    """A GPX 1.1 document with one track."""
    head = '<gpx version="1.1" creator="test" xmlns="http://www.topografix.com/GPX/1/1" xmlns:x="urn:track-points">'
    track = f"<trk><name>Evening</name><type>{sport}</type><trkseg>{points}</trkseg></trk>"
    return f'<?xml version="1.0" encoding="UTF-8"?>{head}{track}</gpx>'.encode()


def point(second: int, rate: str = "120", latitude: float = 47.0, longitude: float = 8.0) -> str:
    when = (BEGAN + timedelta(seconds=second)).isoformat().replace("+00:00", "Z")
    beats = f"<extensions><x:TrackPointExtension><x:hr>{rate}</x:hr></x:TrackPointExtension></extensions>"
    return (
        f'<trkpt lat="{latitude:.6f}" lon="{longitude:.6f}"><ele>{400 + second / 10:.1f}</ele>'
        f"<time>{when}</time>{beats if rate else ''}</trkpt>"
    )


def test_heart_rates_times_height_and_the_way_are_read() -> None:
    series = read_recording(gpx("".join(point(item, str(100 + item), 47 + item * 1e-5) for item in range(60))))
    assert (series.source, series.sport, series.start) == ("GPX", "running", BEGAN)
    assert series.bpm.tolist() == [100.0 + item for item in range(60)]
    assert series.seconds.tolist() == [float(item) for item in range(60)]
    assert series.channels["altitude_m"][-1] == pytest.approx(405.9)
    # a hundred-thousandth of a degree of latitude is 1.112 m
    assert series.channels["distance_m"][-1] == pytest.approx(59 * 1.112, rel=0.001)


@pytest.mark.parametrize(
    ("here", "there", "metres"),
    [
        ((0.0, 0.0), (0.0, 1.0), 111_195.1),  # a degree of the equator on the mean sphere, 2πR ÷ 360
        ((0.0, 0.0), (90.0, 0.0), 10_007_557.2),  # a quarter of a great circle, πR ÷ 2
        ((50.0, 8.0), (50.0, 8.0), 0.0),
        ((10.0, 179.9), (10.0, -179.9), 21_901.2),  # over the date line: 0.2° · cos 10°
    ],
)
def test_the_way_is_that_of_the_sphere(here: tuple[float, float], there: tuple[float, float], metres: float) -> None:
    assert metres_between(here, there) == pytest.approx(metres, abs=1.0)


def test_a_point_without_contact_or_time_is_no_reading() -> None:
    untimed = '<trkpt lat="47" lon="8"><ele>1</ele></trkpt>'
    series = read_recording(gpx(point(0) + untimed + point(1, "") + point(2, "130")))
    assert series.bpm.tolist() == [120.0, 0.0, 130.0]


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (gpx(point(0, "")), "has a way but no heart rate"),
        (gpx('<trkpt lat="47" lon="8"/>'), "has no track points with a time"),
        (gpx(point(0, latitude=147.0)), "is no place on earth"),
        (gpx(point(0, "fast")), "has a track point that cannot be read"),
        (gpx(point(0))[:-40], "is broken XML in line 1"),
        (b"<svg></svg>", "neither TCX nor GPX: it begins with <svg>"),
        (b'<!DOCTYPE gpx [<!ENTITY a "b">]>' + gpx(point(0))[38:], "declares entities or a document type"),
    ],
)
def test_what_is_wrong_is_told(content: bytes, says: str) -> None:
    with pytest.raises(FaultyInput, match=says):
        read_recording(content)


@pytest.mark.parametrize(
    ("code", "sport"),
    [("1", "cycling"), ("9", "running"), ("10", "walking"), ("77", ""), ("Morning run", "morning run")],
)
def test_a_number_for_the_kind_of_a_track_means_what_exporters_mean(code: str, sport: str) -> None:
    assert read_recording(gpx("".join(map(point, range(30))), code)).sport == sport


def riding(metres_a_second: float, code: str) -> bytes:
    """Forty minutes at one speed to the north, with a heart that goes up and down."""
    beats = [str(110 + 30 * (second // 120 % 2)) for second in range(0, 2400, 5)]
    return gpx(
        "".join(point(5 * at, rate, 47 + at * 5 * metres_a_second / 111_195) for at, rate in enumerate(beats)), code
    )


def test_a_ride_is_not_taken_for_a_run_of_twenty_five_met() -> None:
    for code, said in (("1", "cycling without power"), ("77", "nobody runs"), ("9", "nobody runs")):
        with pytest.raises(FaultyInput, match=said):
            judge_heart(read_recording(riding(8.5, code)), None, 0.5)
    assert judge_heart(read_recording(riding(3.0, "9")), None, 0.5).demand.startswith("speed")


def test_no_figure_is_printed_of_a_fit_that_went_to_its_bound(monkeypatch: pytest.MonkeyPatch) -> None:
    series = read_recording(riding(3.0, "9"))
    module = sys.modules["oaken.heart_data.calibration.own_demand"]
    real = calibrate
    monkeypatch.setattr(module, "calibrate", lambda who, taken: replace(real(who, taken), at_bounds=("gain",)))
    told = judge_heart(series, None, 0.5)
    assert (told.level_bpm, told.gain, told.rise_s, told.fall_s) == (None, None, None, None)
    table = as_table(told)
    assert "fit: none that could be this heart's" in table
    assert " up, " not in table
