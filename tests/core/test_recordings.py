"""Recordings: packets, files of three formats, cleaning; nothing hostile gets further than a clear message."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import numpy as np
import pytest
from fit_tool.fit_file_builder import FitFileBuilder
from fit_tool.profile.messages.file_id_message import FileIdMessage
from fit_tool.profile.messages.record_message import RecordMessage
from fit_tool.profile.profile_type import FileType
from hypothesis import example, given, settings
from hypothesis import strategies as st
from oaken.basis.faults import FaultyInput
from oaken.heart_data.recordings import LARGEST_BYTES, HeartSeries, cleaned, read_recording
from oaken.heart_data.recordings.belts import Belt, BeltHeart, series_of
from oaken.heart_data.recordings.packets import FaultyPacket, Measurement, decode, encode

START = datetime(2026, 3, 5, 19, 0, tzinfo=UTC)


# ---- packets ------------------------------------------------------------------------------------------------------


def test_packets_of_the_specification() -> None:
    """Bluetooth SIG, Heart Rate Measurement (0x2A37), layout from memory; bytes put together by hand."""
    assert decode(bytes([0x00, 72])) == Measurement(72)
    assert decode(bytes([0x01, 0x2C, 0x01])) == Measurement(300)
    assert decode(bytes([0x04, 0])) == Measurement(0, contact=False)
    assert decode(bytes([0x06, 65])) == Measurement(65, contact=True)
    assert decode(bytes([0x08, 90, 0x10, 0x27])) == Measurement(90, energy_kj=10_000)
    assert decode(bytes([0x1E, 60, 0x01, 0x00, 0x00, 0x04, 0x00, 0x02])) == Measurement(60, True, 1, (1.0, 0.5))


@given(
    st.builds(
        Measurement,
        st.integers(0, 65_535),
        st.sampled_from([None, True, False]),
        st.none() | st.integers(0, 65_535),
        st.lists(st.integers(0, 65_535), max_size=9).map(lambda all_of_them: tuple(n / 1024 for n in all_of_them)),
    )
)
def test_what_is_encoded_is_decoded(measurement: Measurement) -> None:
    assert decode(encode(measurement)) == measurement


@given(st.binary(max_size=600))
def test_any_bytes_are_a_measurement_or_a_faulty_packet(packet: bytes) -> None:
    try:
        measured = decode(packet)
    except FaultyPacket:
        return
    assert 0 <= measured.bpm <= 65_535
    assert decode(encode(measured)) == measured


@pytest.mark.parametrize("packet", [b"", b"\x00", b"\x01\x40", b"\x08\x40\x01", b"\x10\x40\x01", b"\x00\x40\x00"])
def test_a_packet_that_ends_within_a_field_is_refused(packet: bytes) -> None:
    with pytest.raises(FaultyPacket):
        decode(packet)


def test_what_fits_no_packet_is_refused() -> None:
    with pytest.raises(FaultyPacket):
        encode(Measurement(70_000))


# ---- files --------------------------------------------------------------------------------------------------------


def tcx(rates: list[int | None], every_s: int = 1) -> bytes:
    points = "".join(
        f"<Trackpoint><Time>{(START + timedelta(seconds=i * every_s)).strftime('%Y-%m-%dT%H:%M:%SZ')}</Time>"
        + (f"<HeartRateBpm><Value>{rate}</Value></HeartRateBpm>" if rate is not None else "")
        + "</Trackpoint>"
        for i, rate in enumerate(rates)
    )
    space = "urn:a-training-centre-database:v2"
    return (
        f'<?xml version="1.0" encoding="UTF-8"?><TrainingCenterDatabase xmlns="{space}"><Activities><Activity '
        f'Sport="Other"><Lap><Track>{points}</Track></Lap></Activity></Activities></TrainingCenterDatabase>'
    ).encode()


def fit(rates: list[int | None]) -> bytes:
    """Written by an outside library, so that reader and writer share nothing."""
    builder = FitFileBuilder(auto_define=True)
    head = FileIdMessage()
    head.type = FileType.ACTIVITY
    head.manufacturer = 255
    head.product = 0
    head.time_created = round(START.timestamp() * 1000)
    head.serial_number = 1
    builder.add(head)
    for second, rate in enumerate(rates):
        record = RecordMessage()
        record.timestamp = round((START.timestamp() + second) * 1000)
        record.heart_rate = 255 if rate is None else rate
        builder.add(record)
    return bytes(builder.build().to_bytes())


RATES: list[int | None] = [80, 81, 83, None, 90, 92]
EXPECTED = [80, 81, 83, 0, 90, 92]


@pytest.mark.parametrize(
    ("content", "start"),
    [
        (b"seconds,bpm\n0,80\n1,81\n2,83\n3,\n4,90\n5,92\n", None),
        (b"\xef\xbb\xbfBPM;Elapsed\r\n80;0:00\r\n81;0:01\r\n83;0:02\r\n;0:03\r\n90;0:04\r\n92;0:05\r\n", None),
        ("time\theart_rate\n".encode("utf-16") + "\n".join(f"{s}\t{r}" for s, r in enumerate(EXPECTED)).encode("utf-16-le"), None),
        (b"timestamp,hr\n" + b"".join(f"2026-03-05T19:00:0{s}Z,{r}\n".encode() for s, r in enumerate(EXPECTED)), START),
        (tcx(RATES), START),
        (fit(RATES), START),
    ],
)  # fmt: skip
def test_every_format_gives_the_same_series(content: bytes, start: datetime | None) -> None:
    series = read_recording(content)
    assert series.seconds.tolist() == [0, 1, 2, 3, 4, 5]
    assert series.bpm.tolist() == EXPECTED
    assert series.start == start


@given(st.lists(st.tuples(st.floats(0.5, 30), st.integers(30, 230)), min_size=1, max_size=40))
def test_a_table_of_seconds_and_rates_is_read_as_it_stands(steps: list[tuple[float, int]]) -> None:
    seconds = np.round(np.cumsum([0.0, *(gap for gap, _ in steps[1:])]), 3)
    series = HeartSeries.of(seconds.tolist(), [float(rate) for _, rate in steps], None, "CSV")
    rows = (f"{second:.10g},{bpm:g}" for second, bpm in zip(series.seconds.tolist(), series.bpm.tolist(), strict=True))
    again = read_recording("\n".join(["seconds,bpm", *rows, ""]).encode())
    assert again.bpm.tolist() == series.bpm.tolist()
    assert np.allclose(again.seconds, series.seconds, rtol=1e-4, atol=1e-2)


BOMB = b"""<?xml version="1.0"?><!DOCTYPE lolz [<!ENTITY lol "lol"><!ENTITY lol2 "&lol;&lol;&lol;&lol;&lol;&lol;">
<!ENTITY lol3 "&lol2;&lol2;&lol2;&lol2;&lol2;&lol2;">]><TrainingCenterDatabase>&lol3;</TrainingCenterDatabase>"""
OUTSIDE = b"""<?xml version="1.0"?><!DOCTYPE x [<!ENTITY x SYSTEM "file:///etc/passwd">]>
<TrainingCenterDatabase><Trackpoint><Time>&x;</Time></Trackpoint></TrainingCenterDatabase>"""


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"", "is empty"),
        (b"  \n ", "is empty"),
        (b"seconds,bpm\n" + b"0,80\n" * 2_000_000, "at most 8 MB"),
        (b"x" * (LARGEST_BYTES + 1), "at most 8 MB"),
        (BOMB, "declares entities"),
        (OUTSIDE, "declares entities"),
        (tcx(RATES)[:-200], "broken XML"),
        (tcx([]), "no track points"),
        (tcx([None, None]), "no reading that is a heart rate"),
        (tcx([999]), "no reading that is a heart rate"),
        (
            b"<TrainingCenterDatabase><Trackpoint><Time>yesterday</Time></Trackpoint></TrainingCenterDatabase>",
            "cannot be read",
        ),
        (fit(RATES)[:-9], "broken or cut off FIT"),
        (fit(RATES)[:20], "broken or cut off FIT"),
        (fit([]), "no records"),
        (b"\x0e\x20\x68\x06\xff\xff\xff\x7f.FIT\x00\x00", "broken or cut off FIT"),
        ("seconds,bpm\n0,80\n1,é\n".encode("latin-1"), "no UTF-8 text"),
        (b"seconds,bpm\n0,80\x001,90\n", "zero bytes"),
        (b"when,what\n0,80\n", "“seconds” or “time”"),
        (b"seconds,bpm\n0,80\nsoon,81\n2,fast\n", "line 3"),
        (b"seconds,bpm\n0,80\n-4,81\n", "no time since the start"),
        (b"seconds,bpm\n0,nan\n", "no heart rate"),
        (b"seconds,bpm\n0,80\n90000,80\n", "at most 12 h"),
        (b"seconds,bpm\n", "no heart-rate readings"),
        (b"seconds,bpm\n0\n", "no reading that is a heart rate"),
        (b"time,bpm\n2026-03-05T19:00:00Z,80\n2026-03-05T19:00:01,80\n", "time zone"),
        (b"time,bpm\n2026-03-05T19:00:05Z,80\n2026-03-05T19:00:01Z,80\n", "back in time"),
        (b"seconds,bpm\n" + b"".join(b"%d.%d,80\n" % (n // 2, n % 2 * 5) for n in range(60_002)), "60,000 readings"),
    ],
    ids=lambda value: value if isinstance(value, str) else "",
)
def test_a_file_that_cannot_be_used_says_why(content: bytes, says: str) -> None:
    with pytest.raises(FaultyInput) as fault:
        read_recording(content, "class.csv")
    assert says in str(fault.value)


def test_every_faulty_line_is_told_up_to_ten() -> None:
    with pytest.raises(FaultyInput) as fault:
        read_recording(b"seconds,bpm\n" + b"x,80\n" * 30)
    assert [each_fault.place for each_fault in fault.value.faults] == [f"line {n}" for n in range(2, 12)]


WHOLE: bytes = fit([80, 85, 90, 95])


@settings(max_examples=300)
@given(
    st.binary(max_size=300)
    | st.tuples(st.integers(0, 2000), st.integers(0, 255)).map(
        lambda at: bytes(at[1] if i == at[0] % len(WHOLE) else byte for i, byte in enumerate(WHOLE))
    )
)
@example(fit([80, 90])[:40])
def test_any_bytes_are_a_series_or_a_located_fault(content: bytes) -> None:
    try:
        series = read_recording(content)
    except FaultyInput:
        return
    assert np.all(np.diff(series.seconds) > 0)
    assert series.bpm.size == series.seconds.size > 0


# ---- cleaning -----------------------------------------------------------------------------------------------------


def test_dropouts_spikes_and_gaps_are_taken_out_and_told() -> None:
    seconds = [float(s) for s in range(300) if not 100 <= s < 140]
    bpm = [120 + 10 * np.sin(s / 40) for s in seconds]
    for spike in (50, 51, 200):
        bpm[spike] += 45
    for lost in range(80, 90):
        bpm[lost] = 0
    clean = cleaned(HeartSeries.of(seconds, bpm, None, "CSV"))
    assert (clean.dropped, clean.spikes) == (10, 3)
    assert clean.lost_s == pytest.approx(41, abs=1)
    assert np.abs(clean.bpm - (120 + 10 * np.sin(clean.seconds / 40))).max() < 1e-9
    assert len(clean.words) == 3


def test_steep_work_is_no_spike() -> None:
    ramp = HeartSeries.of([float(s) for s in range(120)], [80 + min(60, 1.5 * s) for s in range(120)], None, "CSV")
    assert cleaned(ramp).words == []


# ---- belts --------------------------------------------------------------------------------------------------------


def test_a_simulated_belt_sends_what_the_decoder_reads() -> None:
    chance = np.random.default_rng(3)
    rates = BeltHeart(60, 185).rates(np.repeat([0.1, 0.7, 0.3], 400), chance)
    packets = list(Belt(on_from_s=60, losses_per_hour=20, spikes_per_hour=20).packets(rates, chance))
    assert packets[0][0] == 60
    series = series_of(packets, START)
    assert series.length_s == 1139
    kept = cleaned(series)
    assert kept.dropped > 0
    assert kept.spikes > 0
    near = rates[(kept.seconds + 60).astype(int)]
    assert np.abs(near - kept.bpm).max() < 21
    assert np.abs(near - kept.bpm).mean() < 1
    beats = [interval for _, packet in packets for interval in decode(packet).rr_s]
    assert len(beats) == pytest.approx(rates[60:].sum() / 60, rel=0.1)


def test_the_same_seed_gives_the_same_belt() -> None:
    once, again = (
        list(Belt().packets(BeltHeart(60, 185).rates(np.full(300, 0.5), chance), chance))
        for chance in (np.random.default_rng(5), np.random.default_rng(5))
    )
    assert once == again
