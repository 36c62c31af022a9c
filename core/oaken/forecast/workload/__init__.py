"""What the steps of a timeline demand of everybody: columns over the steps, work done, hearts; a class carried out."""

from oaken.forecast.workload.carried_out import FULL_DEPTH, PARALLEL_DEPTH, CarriedOut, carry_out
from oaken.forecast.workload.columns import Workload, layout_workload, workload_of
from oaken.forecast.workload.hearts import EDGES_EVERY_S, Hearts, hearts_under
from oaken.forecast.workload.work_done import WorkDone, work_done

__all__ = [
    "EDGES_EVERY_S",
    "FULL_DEPTH",
    "PARALLEL_DEPTH",
    "CarriedOut",
    "Hearts",
    "WorkDone",
    "Workload",
    "carry_out",
    "hearts_under",
    "layout_workload",
    "work_done",
    "workload_of",
]
