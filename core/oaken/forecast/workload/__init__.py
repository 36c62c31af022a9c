"""What the steps of a timeline demand of everybody: columns over the steps, work done, hearts; a class carried out."""

from oaken.forecast.workload.carried_out import FULL_DEPTH, PARALLEL_DEPTH, CarriedOut, carry_out
from oaken.forecast.workload.columns import Strain, layout_strain, strain_of
from oaken.forecast.workload.hearts import EDGES_EVERY_S, Hearts, hearts_under
from oaken.forecast.workload.work_done import WorkDone, work_done

__all__ = [
    "EDGES_EVERY_S",
    "FULL_DEPTH",
    "PARALLEL_DEPTH",
    "CarriedOut",
    "Hearts",
    "Strain",
    "WorkDone",
    "carry_out",
    "hearts_under",
    "layout_strain",
    "strain_of",
    "work_done",
]
