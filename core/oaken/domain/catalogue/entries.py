"""What the catalogue's data files hold, one model a kind of entry."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, PrivateAttr, field_validator

from oaken.basis.names import Clean
from oaken.domain.prescription.loads import Load
from oaken.domain.prescription.machine import MachineSetting
from oaken.domain.prescription.tempo import Tempo

Condition = Literal[
    "knee",
    "low_back",
    "disc",
    "shoulder",
    "balance",
    "pregnancy",
    "blood_pressure",
    "heart",
    "return_after_illness",
]
"""What somebody may have to be careful about."""

Nature = Literal["resistance", "body_weight", "rhythmic", "mobility", "pause"]
Tag = Literal[
    "supported", "spinal_load", "free_bar", "back", "balance", "overhead", "impact", "treadmill", "alternates"
]
Holds = Literal["stack", "plates", "bar", "dumbbells", "kettlebells", "nothing"]

Id = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[a-z0-9][a-z0-9_-]*$")]
SpokenName = Annotated[str, Clean, Field(min_length=2, max_length=60)]


SHIPPED_AGAIN = "shipped--"
"""What stands before the id of a shipped entry where an instructor's own entry has had its id from before. No shipped
id begins with it, and none that is added anew may."""


def shipped_again(key: str) -> str:
    """The id of a shipped entry beside an own one of the same id."""
    return f"{SHIPPED_AGAIN}{key}"[:60]


def shipped_name(name: str) -> str:
    """What a shipped entry is called beside an own one of the same name, in words that a line of text can hold."""
    return f"Catalogue {name[:1].lower()}{name[1:]}"


class Entry(BaseModel):
    """Anything in the catalogue: frozen, and closed to fields nobody knows."""

    model_config = ConfigDict(frozen=True, extra="forbid")


class NamedEntry(Entry):
    """A muscle."""

    id: Id
    name: SpokenName


class Pattern(NamedEntry):
    """A movement pattern, with what holds for all of its exercises; `questions` are choices it is argued about."""

    cues: list[str] = []
    questions: list[str] = []


class EquipmentKind(NamedEntry):
    """A kind of equipment with the seconds it costs to set it up and to change its load.

    Two exercises of one kind share its units: pairing them needs no walk and blocks the unit for both. `step_kg` is
    the smallest step of its load, 0 where it holds none. `width_m` and `depth_m` are the floor it takes.
    """

    set_up_s: Annotated[float, Field(ge=0, le=300)]
    load_change_s: Annotated[float, Field(ge=0, le=300)]
    holds: Holds = "nothing"
    step_kg: Annotated[float, Field(ge=0, le=50)] = 0
    width_m: Annotated[float, Field(ge=0.2, le=10)] = 1.0
    depth_m: Annotated[float, Field(ge=0.2, le=10)] = 1.6


class MuscleMassClass(NamedEntry):
    """How much muscle works, as a factor on the oxygen cost above recovery; `usual_best` is what is usually lifted once
    with it, as a share of body mass."""

    factor: Annotated[float, Field(gt=0, le=1)]
    usual_best: Annotated[float, Field(gt=0, le=3)]


class Activity(Entry):
    """A row of the activity table.

    `met` averages work and rest. `duty` is the share of working time the value stands for and `rest_met` the demand
    between efforts: with both, the demand of the working phase alone can be derived.
    """

    code: str
    name: str
    met: Annotated[float, Field(gt=0, le=25)]
    duty: Annotated[float, Field(gt=0, le=1)]
    rest_met: Annotated[float, Field(gt=0, le=5)]


class EquationSetting(Entry):
    """The machine setting or cadence with which a metabolic equation can stand in for the activity table."""

    kind: Literal["walk", "run", "leg_cycle", "arm_cycle", "row", "step"]
    speed_m_per_min: float = 0.0
    grade: float = 0.0
    power_w: float = 0.0
    step_rate_per_min: float = 0.0
    height_m: float = 0.0

    def with_setting(self, setting: MachineSetting | None) -> EquationSetting:
        """The same equation at what the instructor has set; what is not set stays as in the catalogue.

        A bare level is more or less of the catalogue's own setting: ten is as much, every level 5 % of it (common
        practice, no source; machines differ).
        """
        if setting is None:
            return self
        if setting.level is not None:
            scale = 1 + LEVEL_STEP * (setting.level - USUAL_LEVEL)
            names = {"walk": ["speed_m_per_min"], "run": ["speed_m_per_min"], "step": ["step_rate_per_min"]}.get(
                self.kind, ["power_w"]
            )
            eased = {name: getattr(self, name) * scale for name in names}
            return self.model_copy(update=eased).with_setting(_without_level(setting))
        given = {
            "speed_m_per_min": None if setting.speed_kmh is None else setting.speed_kmh * 1000 / 60,
            "grade": None if setting.incline_percent is None else setting.incline_percent / 100,
            "power_w": setting.power_w,
            "step_rate_per_min": setting.steps_per_min,
            "height_m": setting.step_height_m,
        }
        return self.model_copy(update={name: float(value) for name, value in given.items() if value is not None})


SETTINGS_OF_EQUATION = {
    "walk": frozenset({"speed_kmh", "incline_percent"}),
    "run": frozenset({"speed_kmh", "incline_percent"}),
    "leg_cycle": frozenset({"power_w", "level"}),
    "arm_cycle": frozenset({"power_w", "level"}),
    "row": frozenset({"power_w", "level"}),
    "step": frozenset({"steps_per_min", "step_height_m", "level"}),
}
"""What can be set where a metabolic equation knows the machine or the way."""

LEVEL_STEP = 0.05
USUAL_LEVEL = 10


def _without_level(setting: MachineSetting) -> MachineSetting | None:
    rest = setting.model_dump(exclude={"level"}, exclude_none=True)
    return MachineSetting(**rest) if rest else None


class CautionNote(Entry):
    """For whom an exercise asks for care, and how it is done with less of it; other exercises are not named here."""

    who: Condition
    say: Annotated[str, Field(min_length=3, max_length=200)]


RENAMED_ACTIVITIES = {"02012": "02017", "02015": "02014", "02071": "02072"}
"""Codes that stood for cycling and rowing here before, and the table's own for the same thing."""


class Exercise(NamedEntry):
    """An exercise of the catalogue.

    `nature` decides the heart's answer: static effort in resistance work drives it above the oxygen cost.
    `displacement_m` is the height through which the load (and `body_mass_share` of the body) is lifted each rep.
    `speed_m_per_s` is how fast it covers ground, where it is measured in metres. `easier` and `harder` name variants
    by id; substitutes are the exercises of the same pattern. `kinder_for` is for an instructor's own
    entries: conditions to which she says it is kind (for the shipped ones see `oaken.domain.people.conditions`).
    """

    aliases: list[SpokenName] = []
    equipment: str
    pattern: str
    prime: list[str]
    helping: list[str]
    sides: Literal["two_sided", "one_sided"]
    nature: Nature
    muscle_mass: str
    activity: str
    tempo: Tempo
    displacement_m: Annotated[float, Field(ge=0, le=2)]
    body_mass_share: Annotated[float, Field(ge=0, le=1)]
    takes_load: bool
    speed_m_per_s: Annotated[float, Field(gt=0, le=15)] | None = None
    equation: EquationSetting | None = None
    cues: Annotated[list[str], Field(max_length=12)] = []
    cautions: Annotated[list[CautionNote], Field(max_length=12)] = []
    kinder_for: Annotated[list[Condition], Field(max_length=9)] = []
    easier: list[str] = []
    harder: list[str] = []
    tags: list[Tag] = []

    _own: bool = PrivateAttr(default=False)

    @field_validator("activity", mode="before")
    @classmethod
    def today_s_code(cls, code: object) -> object:
        """The activity table's right code, for exercises that were kept with one that it did not have."""
        return RENAMED_ACTIVITIES.get(code, code) if isinstance(code, str) else code

    @field_validator("name")
    @classmethod
    def can_be_written(cls, name: str) -> str:
        return _writable(name)

    @field_validator("aliases")
    @classmethod
    def aliases_can_be_written(cls, aliases: list[str]) -> list[str]:
        return [_writable(alias) for alias in aliases]

    @field_validator("tempo")
    @classmethod
    def takes_time(cls, tempo: Tempo) -> Tempo:
        if tempo.rep_s <= 0:
            raise ValueError("a repetition takes some time: its tempo cannot be all zeros")
        return tempo

    @property
    def is_own(self) -> bool:
        """Whether an instructor has added it: nothing that is known of a shipped exercise of its id holds for it."""
        return self._own

    @property
    def shipped_id(self) -> str:
        """The id under which the shipped tables know it; empty for an instructor's own."""
        return "" if self._own else self.id.removeprefix(SHIPPED_AGAIN)

    def as_own(self) -> Exercise:
        """The same exercise, known to be an instructor's own."""
        own = self.model_copy()
        own._own = True
        return own

    def beside(self, moved: Mapping[str, str], moved_kinds: Mapping[str, str], taken: Collection[str]) -> Exercise:
        """A shipped exercise beside an instructor's own entries: `moved` and `moved_kinds` say which shipped exercises
        and equipment kinds stand under other ids now, `taken` are the names, in lower case, that hers have."""
        clashes = self.name.lower() in taken
        update = {
            "id": moved.get(self.id, self.id),
            "name": shipped_name(self.name) if clashes else self.name,
            "aliases": [alias for alias in self.aliases if alias.lower() not in taken],
            "equipment": moved_kinds.get(self.equipment, self.equipment),
            "easier": [moved.get(item, item) for item in self.easier],
            "harder": [moved.get(item, item) for item in self.harder],
        }
        changed = {field: value for field, value in update.items() if value != getattr(self, field)}
        return self.model_copy(update=changed) if changed else self

    @property
    def loads_muscle(self) -> bool:
        """Whether its seconds count as time under tension."""
        return self.nature in ("resistance", "body_weight")

    @property
    def is_work(self) -> bool:
        """Whether its seconds count as work in the densities: stretching and talk do not."""
        return self.nature not in ("mobility", "pause")

    def can_take(self, load: Load) -> bool:
        """Whether a load means anything here: any where it is loaded, kilograms that are held and how hard it is in
        work of the body's own weight, effort in rhythmic work."""
        if self.takes_load:
            return True
        if self.nature == "body_weight":
            return load.by_effort or load.load_kg is not None
        return self.nature == "rhythmic" and load.way == "effort"

    @property
    def settings(self) -> frozenset[str]:
        """The fields of a machine setting that mean something here. A rhythmic exercise that no equation knows may be
        set in any way."""
        if self.equation is not None:
            return SETTINGS_OF_EQUATION[self.equation.kind]
        return frozenset(MachineSetting.model_fields) if self.nature == "rhythmic" else frozenset()

    @property
    def alternates(self) -> bool:
        """Whether its sides take turns repetition by repetition, however they are counted."""
        return "alternates" in self.tags

    @property
    def is_static(self) -> bool:
        """Whether it is held rather than repeated."""
        return self.tempo.lowering_s == 0 and self.tempo.lifting_s == 0

    @property
    def one_sided(self) -> bool:
        """Whether it is done one side at a time."""
        return self.sides == "one_sided"


# words with which a line of the notation begins when it is no exercise
RESERVED_WORDS = {
    "block",
    "class",
    "slot",
    "starts",
    "room",
    "people",
    "note",
    "aim",
    "level",
    "choose",
    "then",
    "rest",
}


def _writable(name: str) -> str:
    """A name that the notation can tell from the figures behind it."""
    if any(mark.isdigit() or mark in ",;:@/+#()~%" for mark in name):
        raise ValueError("a name has no digits and none of , ; : @ / + # ( ) ~ %, so that it can be written in a line")
    words = name.lower().split()
    if name != " ".join(name.split()) or not words or words[0] in RESERVED_WORDS:
        raise ValueError("a name has single spaces and begins with no word of the notation")
    return name


def spoken_names(exercise: Exercise) -> list[str]:
    """Everything an exercise is called in writing, lower case."""
    return [exercise.name.lower(), *(alias.lower() for alias in exercise.aliases)]
