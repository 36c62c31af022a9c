"""Loads the demo: the mountain-rescue team, its mill, its classes, twelve weeks of its course up to today, three more
classes that were held, and one that is half run."""

from datetime import datetime, time, timedelta
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management.base import BaseCommand, CommandParser
from django.db import transaction
from django.utils import timezone
from oaken.domain.people.record import Record, SettingRow
from oaken.schedule.class_file import ClassFile
from oaken.schedule.class_file.reading import load_class
from people import keeping as people
from people.models import Person
from planning import keeping as plans
from planning.models import PlannedClass
from studio.models import Member, Studio
from studio.rooms import create_room

from logbook import keeping, runs
from logbook.management.demo_weeks import load_weeks

CLASSES = ("long-carry", "scree-and-stairs", "machine-pairs", "stretcher-legs")
TEAM = "machine-pairs"
"""The class whose people take the course."""

STUDIO = "Alder Mill"
ACCOUNTS = {"ranger": ("instructor", "mill-by-the-weir"), "helper": ("assistant", "mill-by-the-weir")}

WEEKS = ((21, "long-carry"), (14, "machine-pairs"), (7, "scree-and-stairs"))
"""Days ago, and what was held: enough for a calibration that is then tried on a class it has not seen."""

HALF_RUN, HALF_S = "stretcher-legs", 1100
"""A class that was begun today and never ended: where it stands, in seconds."""

WITHOUT_BELT = ("petra", "noor")
CALIBRATED = ("tobin", "ines", "ruben")
"""Whose hearts are fitted already; the others show the way there."""

RULES = [
    {"id": "collars", "say": "collars on every free bar, also for the warm-up", "safer": "", "tag": "free_bar"},
    {"id": "stairs-wet", "say": "no jumps on the mill's stairs or wet boards", "safer": "on the mats", "tag": "impact"},
    {"id": "warm", "say": "doors open and water on the bench from WBGT 23 °C", "safer": "", "wbgt_from_c": 23},
]  # fmt: skip

RECORDS: dict[str, dict[str, Any]] = {
    "oskar": {
        "careful": ["knee", "blood_pressure"],
        "screening": {"some_yes": True, "advised": True},
        "health_note": "Left knee: meniscus two winters ago, no deep loaded bends. Pressure is checked monthly.",
    },
    "petra": {
        "careful": ["heart"],
        "screening": {"some_yes": True, "advised": True},
        "health_note": "Beta-blocker since spring. Doctor: moderate effort, able to talk throughout.",
    },
    "wilma": {"careful": ["low_back"], "screening": {"some_yes": True, "advised": False}, "health_note": ""},
    "signe": {"careful": ["return_after_illness"], "health_note": "Two weeks of influenza, first class since."},
    "jory": {"careful": ["shoulder"]},
}
GROUPS = {"advanced": "rope team", "standard": "stretcher team", "beginner": "new members"}


class Command(BaseCommand):
    """Adds what is missing and leaves everything that is there as it is."""

    help = "Load the demo data; what is already there is kept."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--without-weeks", action="store_true", help="leave out the twelve weeks of the course")

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        studio = Studio.objects.order_by("id").first() or Studio.objects.create(name=STUDIO)
        if not studio.members.exists():
            studio.name, studio.house_rules = STUDIO, RULES
            studio.save()
        self._accounts(studio)
        for name in CLASSES:
            file = load_class(Path(settings.ROOT) / "examples" / f"{name}.json")
            if not studio.rooms.filter(key=file.room.id).exists():
                create_room(studio, file.room)
            self._people(studio, file)
            if not PlannedClass.objects.filter(studio=studio, key=name).exists():
                plans.create(studio, file.plan, key=name)
        if not studio.runs.exists():
            self._weeks(studio)
            if not options["without_weeks"]:
                file = load_class(Path(settings.ROOT) / "examples" / f"{TEAM}.json")
                load_weeks(studio, file.room.id, file.plan.people, timezone.localdate())
        self.stdout.write(f"Demo data: {studio.people.count()} people, {studio.classes.count()} classes.")
        for user, (role, password) in ACCOUNTS.items():
            self.stdout.write(f"  Sign in as {user} ({role}), password {password}")

    def _accounts(self, studio: Studio) -> None:
        users = get_user_model()
        for name, (role, password) in ACCOUNTS.items():
            if not users.objects.filter(username=name).exists():
                user = users.objects.create_user(name, password=password)
                Member.objects.create(user=user, studio=studio, role=role)

    def _people(self, studio: Studio, file: ClassFile) -> None:
        today = timezone.localdate()
        for who in file.people:
            if studio.people.filter(key=who.id).exists():
                continue
            told = RECORDS.get(who.id, {})
            answers = {"some_yes": False, "advised": False, **told.get("screening", {})}
            screening = None if who.id == "emlyn" else {"on": today - timedelta(days=100), **answers}
            person = who.model_validate(
                {**who.model_dump(), "careful": told.get("careful", []), "screening": screening}
            )
            tested = {lift: "tested in the autumn" for lift in list(who.bests_kg)[:3]}
            settings_of = [
                SettingRow(room=file.room.id, unit=unit.id, name=name, value=str(1 + (len(who.name) + at) % 7))
                for at, unit in enumerate(file.room.units)
                for name in unit.settings[:1]
                if at < 6
            ]
            people.add(
                studio,
                Record(
                    person=person,
                    group=GROUPS[who.level],
                    health_note=told.get("health_note", ""),
                    best_from={lift: tested.get(lift, "estimated from a set (Epley)") for lift in who.bests_kg},
                    settings=settings_of,
                ),
            )

    def _weeks(self, studio: Studio) -> None:
        """Classes of the weeks before today with their logs and the recordings of simulated belts, and one that is half
        run: all of it simulated, from seeds."""
        for days, name in WEEKS:
            planned = studio.classes.get(key=name)
            began = timezone.make_aware(datetime.combine(timezone.localdate() - timedelta(days=days), time(19, 2)))
            run = runs.simulate(studio, planned, began, seed=days)
            plan = plans.plan_of(run.saved_as)
            belts = [person for person in plan.people if person not in WITHOUT_BELT]
            keeping.simulate(run, [belt for belt in belts if days > 7 or belt not in ("marit", "oskar")])
        half = studio.classes.get(key=HALF_RUN)
        runs.simulate(studio, half, timezone.now() - timedelta(seconds=HALF_S + 60), seed=HALF_S, until_s=HALF_S)
        for key in CALIBRATED:
            person = Person.objects.get(studio=studio, key=key)
            if person.recordings.exists():
                keeping.use_calibration(person)
