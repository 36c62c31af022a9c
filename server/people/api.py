"""Endpoints of the people."""

from django.http import HttpRequest
from ninja import Router
from oaken.people import Person as CorePerson

from people.models import Person

router = Router(tags=["people"])


@router.get("/people", response=list[CorePerson])
def list_people(request: HttpRequest) -> list[CorePerson]:
    """Everybody, with what the computation knows of them."""
    return [person.to_core() for person in Person.objects.prefetch_related("bests")]
