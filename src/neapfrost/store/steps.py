"""The steps of a plan: written as they are done, marked when they are undone."""

from datetime import datetime
from typing import Literal

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from neapfrost.store.tables import Mark, Step

State = Literal["done", "undone", "dropped"]


def add_step(session: Session, step: Step) -> None:
    """Write a step as done, an act of its own; what was undone before can no longer be redone."""
    undone = select(Step).where(Step.plan_id == step.plan_id, Step.state == "undone")
    for old in session.scalars(undone):
        old.state = "dropped"
    session.add(step)
    session.flush()
    step.act = step.id


def joined(session: Session, plan_id: int, after: int) -> None:
    """Make the steps of a plan that were written after step `after` one act."""
    query = select(Step).where(Step.plan_id == plan_id, Step.id > after).order_by(Step.id)
    steps = list(session.scalars(query))
    for step in steps:
        step.act = steps[0].id


def newest_step(session: Session, plan_id: int) -> int:
    """The number of a plan's newest step; 0 where it has none."""
    return session.scalar(select(func.max(Step.id)).where(Step.plan_id == plan_id)) or 0


def of_the_act(session: Session, step: Step) -> list[Step]:
    """The steps that were written by the same act and stand as this one does, in their order."""
    if step.act is None:
        return [step]
    query = select(Step).where(
        Step.plan_id == step.plan_id,
        Step.act == step.act,
        Step.state == step.state,
        Step.before > 0,
    )
    return list(session.scalars(query.order_by(Step.id)))


def last_done(session: Session, plan_id: int) -> Step | None:
    """The step that undo would take back."""
    return session.scalar(
        select(Step)
        .where(Step.plan_id == plan_id, Step.state == "done", Step.before > 0)
        .order_by(Step.id.desc())
        .limit(1)
    )


def next_undone(session: Session, plan_id: int) -> Step | None:
    """The step that redo would do again."""
    return session.scalar(
        select(Step)
        .where(Step.plan_id == plan_id, Step.state == "undone")
        .order_by(Step.id)
        .limit(1)
    )


def list_steps(session: Session, plan_id: int) -> list[Step]:
    """Steps of a plan, the newest first, without those that were dropped."""
    query = select(Step).where(Step.plan_id == plan_id, Step.state != "dropped")
    return list(session.scalars(query.order_by(Step.id.desc())))


def last_steps(session: Session) -> dict[int, tuple[Step | None, datetime]]:
    """Of each plan with steps the last one done, and when any not dropped was made last."""
    latest = (
        select(Step.plan_id, func.max(Step.made_at))
        .where(Step.state != "dropped")
        .group_by(Step.plan_id)
    )
    numbers = select(func.max(Step.id)).where(Step.state == "done").group_by(Step.plan_id)
    done = {
        step.plan_id: step for step in session.scalars(select(Step).where(Step.id.in_(numbers)))
    }
    return {plan_id: (done.get(plan_id), made_at) for plan_id, made_at in session.execute(latest)}


def get_mark(session: Session, name: str) -> str | None:
    """A fact about the store."""
    mark = session.get(Mark, name)
    return None if mark is None else mark.value


def get_marks(session: Session, prefix: str) -> dict[str, str]:
    """All facts whose names begin alike, by what follows."""
    found = session.scalars(select(Mark).where(Mark.name.startswith(prefix, autoescape=True)))
    return {mark.name.removeprefix(prefix): mark.value for mark in found}


def set_mark(session: Session, name: str, value: str) -> None:
    """Write a fact about the store."""
    session.merge(Mark(name=name, value=value))
