"""Searches for a rotation that run beside the requests: watched, cancelled, and usable at any moment."""

from __future__ import annotations

import logging
import secrets
import threading
import time
from collections import OrderedDict
from dataclasses import dataclass, field
from typing import Literal

from oaken.basis.limits import most
from oaken.plan import ClassPlan
from oaken.schedule.arrange.collisions import Conflict, collisions
from oaken.schedule.arrange.proof import by_solving
from oaken.schedule.arrange.search import BlockSearch
from studio.turns import Busy

State = Literal["waiting", "running", "done", "cancelled", "failed"]
MOST_KEPT = most("searches.kept")
AT_ONCE = threading.Semaphore(2)
"""One search a core: more would only slow each other down."""

log = logging.getLogger(__name__)


@dataclass
class Job:
    """A search with its clock. `improved` counts how often something better was found; only the studio that began it
    may ask for it."""

    id: str
    studio: int
    plan: ClassPlan
    block: str
    search: BlockSearch
    state: State = "waiting"
    begun: float = field(default_factory=time.monotonic)
    ended: float | None = None
    improved: int = 0
    why_not: list[Conflict] = field(default_factory=list)

    @property
    def seconds(self) -> float:
        """How long it has been running."""
        return (self.ended or time.monotonic()) - self.begun

    def cancel(self) -> None:
        """Stop soon and keep the best so far."""
        self.search.cancel()

    def _better(self, _: BlockSearch) -> None:
        self.improved += 1

    def run(self) -> None:
        """Search; whatever happens, the job says how it ended."""
        try:
            with AT_ONCE:
                self.state = "running"
                self.search.on_better = self._better
                self.search.run()
                limit = self.search.lineup.block.within_s
                if limit is not None and self.search.best.length_s > limit and not self.search.cancelled:
                    self.why_not = collisions(self.search.lineup, by_solving)
            self.state = "cancelled" if self.search.cancelled else "done"
        except Exception:
            log.exception("the search for a rotation failed")
            self.state = "failed"
            raise
        finally:
            self.ended = time.monotonic()


_jobs: OrderedDict[str, Job] = OrderedDict()
_lock = threading.Lock()


def begin(studio: int, plan: ClassPlan, block: str, search: BlockSearch) -> Job:
    """Start a search; what can be had at once is there when this returns. The oldest searches are forgotten.

    Raises Busy where the studio has as many under way as it may.
    """
    with _lock:
        under_way = sum(job.studio == studio and job.state in ("waiting", "running") for job in _jobs.values())
    if under_way >= most("searches.studio"):
        raise Busy(again_s=5)
    search.at_once()
    job = Job(secrets.token_urlsafe(9), studio, plan, block, search)
    with _lock:
        _jobs[job.id] = job
        while len(_jobs) > MOST_KEPT:
            _, oldest = _jobs.popitem(last=False)
            oldest.cancel()
    threading.Thread(target=job.run, name=f"rotation {job.id}", daemon=True).start()
    return job


def find(studio: int, job_id: str) -> Job | None:
    """A search of this studio that is still remembered."""
    with _lock:
        job = _jobs.get(job_id)
    return job if job is not None and job.studio == studio else None
