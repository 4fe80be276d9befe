"""A study driven to its end in this process, for whoever waits for it."""

import time

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.units import Units
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.studies.jobs import StudyJob, StudyJobs
from neapfrost.services.trade.run import Course

LOOKED_AT_EVERY_S = 0.02


def driven_alone(plan: PlanDocument, course: Course, units: Units = "metric") -> StudyJob:
    """A study with all of its laps. Raises InputRefused where the plan cannot be driven."""
    jobs = StudyJobs(None)
    job = jobs.start(0, plan, course, units)
    while job.state == "running":
        time.sleep(LOOKED_AT_EVERY_S)
        job = jobs.look(job.id)
    if job.state == "refused":
        raise InputRefused([Fault("plan", fault) for fault in job.faults])
    return job
