"""What to be careful about with a person: what has to be read, which exercises ask for care, and which are kinder.

Common practice, no source; local rules and licensed advice come first.
"""

from oaken.domain.people.conditions.about import CarefulAbout, conditions
from oaken.domain.people.conditions.care import (
    ASKS_FOR_CARE,
    CareQuestion,
    Concern,
    Verdict,
    asked,
    concerns,
    kind_to,
    kinder,
    safer_words,
    verdict,
)

__all__ = [
    "ASKS_FOR_CARE",
    "CareQuestion",
    "CarefulAbout",
    "Concern",
    "Verdict",
    "asked",
    "concerns",
    "conditions",
    "kind_to",
    "kinder",
    "safer_words",
    "verdict",
]
