"""The steps of a plan: written as they are done, marked when they are undone."""

from datetime import datetime
from typing import Literal

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from neapfrost.store.tables import Mark, Step

State = Literal["done", "undone", "dropped"]


def add_step(session: Session, step: Step) -> None:
    """Write a step as done; what was undone before can no longer be redone."""
    undone = select(Step).where(Step.plan_id == step.plan_id, Step.state == "undone")
    for old in session.scalars(undone):
        old.state = "dropped"
    session.add(step)
    session.flush()


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


def set_mark(session: Session, name: str, value: str) -> None:
    """Write a fact about the store."""
    session.merge(Mark(name=name, value=value))
