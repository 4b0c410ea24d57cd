"""Things come to rest in threads that end again and again, as those of a pool do that were idle for a while."""

from __future__ import annotations

import sys

from PySide6.QtCore import QCoreApplication, QRunnable, QThread, QThreadPool

from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.ground.sits import sitting_in
from cozy_burrow.core.model.memo import forget_all
from cozy_burrow.demo.shipped import demo_project

ROUNDS = 12


class Settle(QRunnable):
    """Lets everything in the first insert come to rest, with nothing known of it."""

    def run(self) -> None:
        """Work on a thread of the pool."""
        forget_all()
        ground = ground_of(PLAN, PLAN.inserts[0])
        for key in ground.pockets:
            sitting_in(ground, key)


PLAN = demo_project()
app = QCoreApplication([])
pool = QThreadPool()
pool.setExpiryTimeout(1)
for _ in range(ROUNDS):
    pool.start(Settle())
    pool.waitForDone()
    while pool.activeThreadCount():
        QThread.msleep(5)
    QThread.msleep(60)  # the thread has nothing to do and ends
print("all at rest")
sys.exit(0)
