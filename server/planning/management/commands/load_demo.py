"""Loads the demo: the mountain-rescue team, its mill, and four planned classes."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand
from django.db import transaction
from oaken.class_file import ClassFile
from oaken.reading import load_class
from people.models import Best, Person
from studio.models import Room
from studio.rooms import create_room

from planning import keeping
from planning.models import PlannedClass

CLASSES = ("long-carry", "scree-and-stairs", "machine-pairs", "stretcher-legs")


class Command(BaseCommand):
    """Adds what is missing and leaves everything that is there as it is."""

    help = "Load the demo data; what is already there is kept."

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        for name in CLASSES:
            file = load_class(Path(settings.ROOT) / "examples" / f"{name}.json")
            self._keep_room(file)
            self._keep_people(file)
            if not PlannedClass.objects.filter(key=name).exists():
                keeping.create(file.plan, key=name)
        self.stdout.write(f"Demo data: {Person.objects.count()} people, {PlannedClass.objects.count()} classes.")

    def _keep_room(self, file: ClassFile) -> None:
        if not Room.objects.filter(key=file.room.id).exists():
            create_room(file.room)

    def _keep_people(self, file: ClassFile) -> None:
        for who in file.people:
            plain = who.model_dump(exclude={"id", "bests_kg", "sex"})
            person, made = Person.objects.get_or_create(key=who.id, defaults={**plain, "sex": who.sex or ""})
            if made:
                Best.objects.bulk_create(
                    Best(person=person, exercise=exercise, best_kg=kg) for exercise, kg in who.bests_kg.items()
                )
