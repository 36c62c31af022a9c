"""What was pressed on a device and could not be sent, as a file: opened again it goes to its run."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError

from oaken.basis.faults import FaultyInput, faults_of
from oaken.basis.limits import most
from oaken.basis.moments import Moment
from oaken.domain.people import Closed
from oaken.session.events import Event

FORMAT = "oaken-presses/1"


class Presses(Closed):
    """Events that wait for their run: its number on the installation that it is on, and, so that no other run of that
    number is taken for it, when it was opened and what the class was called."""

    format: Literal["oaken-presses/1"]
    run: Annotated[int, Field(ge=1)]
    opened_at: Moment | None = None
    name: Annotated[str, Field(max_length=120)] = ""
    events: Annotated[list[Event], Field(max_length=most("run.events"))]


def read_presses(document: Any) -> Presses:
    """Presses from their JSON. Raises FaultyInput with every fault at its place."""
    try:
        return Presses.model_validate(document)
    except ValidationError as error:
        raise FaultyInput(faults_of(error, document)) from error
