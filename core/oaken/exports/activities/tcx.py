"""Writes an activity as TCX (Training Center Database v2): one lap after the other, each with its heart rates."""

from __future__ import annotations

import re
from bisect import bisect_left
from datetime import UTC, datetime
from xml.etree import ElementTree as Xml

from oaken.basis.words import in_kg
from oaken.exports.activities.activity import Activity, ActivitySet, Lap

SPACE = "http://www.garmin.com/xmlschemas/TrainingCenterDatabase/v2"
"""The name of the published format; nothing is fetched from there."""

NO_XML = re.compile("[^\t\n\x20-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")
"""Signs that no XML may hold."""

MOST_KCAL = 65_535
"""The format counts energy in whole kilocalories of two bytes."""


def write_tcx(activity: Activity) -> str:
    """The activity as TCX, in the order of elements that its schema (from memory) asks for."""
    root = Xml.Element("TrainingCenterDatabase", {"xmlns": SPACE})
    told = Xml.SubElement(Xml.SubElement(root, "Activities"), "Activity", {"Sport": "Other"})
    _text(told, "Id", _moment(activity.began_at))
    for lap in activity.laps:
        _lap(told, activity, lap)
    _text(told, "Notes", f"{activity.name}: {activity.person}. Energy: {activity.energy}.")
    Xml.indent(root)
    body = Xml.tostring(root, encoding="unicode")
    return f'<?xml version="1.0" encoding="UTF-8"?>\n{body}\n'


def _lap(parent: Xml.Element, activity: Activity, lap: Lap) -> None:
    one = Xml.SubElement(parent, "Lap", {"StartTime": _moment(activity.moment(lap.from_s))})
    _text(one, "TotalTimeSeconds", f"{lap.until_s - lap.from_s:.1f}")
    _text(one, "DistanceMeters", "0")
    _text(one, "Calories", str(min(MOST_KCAL, max(0, round(lap.kcal)))))
    if lap.mean_bpm is not None and lap.peak_bpm is not None:
        _rate(one, "AverageHeartRateBpm", round(lap.mean_bpm))
        _rate(one, "MaximumHeartRateBpm", round(lap.peak_bpm))
    _text(one, "Intensity", "Active")
    _text(one, "TriggerMethod", "Manual")
    first, last = (bisect_left(activity.seconds, second) for second in (lap.from_s, lap.until_s))
    if last > first:
        track = Xml.SubElement(one, "Track")
        for second, bpm in zip(activity.seconds[first:last], activity.bpm[first:last], strict=True):
            point = Xml.SubElement(track, "Trackpoint")
            _text(point, "Time", _moment(activity.moment(second)))
            _rate(point, "HeartRateBpm", bpm)
    done = [set_words(each) for each in activity.sets if lap.from_s <= each.start_s < lap.until_s]
    _text(one, "Notes", "; ".join([lap.name, *done]))


def set_words(done: ActivitySet) -> str:
    """A set in words: “leg press 10 × 80 kg”, and what else was written: “set 3, part 2, 2 helped, to failure”."""
    count = f"{done.seconds:.0f} s" if done.reps is None else f"{done.reps}"
    load = "" if done.load_kg is None else f" × {in_kg(done.load_kg)}"
    return f"{done.exercise} {count}{load}, {done.in_words}"


def _rate(parent: Xml.Element, name: str, bpm: int) -> None:
    _text(Xml.SubElement(parent, name), "Value", str(bpm))


def _text(parent: Xml.Element, name: str, text: str) -> None:
    Xml.SubElement(parent, name).text = NO_XML.sub("", text)


def _moment(moment: datetime) -> str:
    return f"{moment.astimezone(UTC):%Y-%m-%dT%H:%M:%S}.{moment.microsecond // 1000:03d}Z"
