"""Events with their sessions, the runs that belong to them, and what runs have taught."""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    _items("event", sa.Column("circuit", sa.String()), sa.Column("held_on", sa.String()))
    _items(
        "fit",
        sa.Column("plan_id", sa.Integer(), sa.ForeignKey("plans.id"), nullable=True),
        sa.Column("circuit", sa.String(), nullable=False),
        sa.Column("car", sa.String(), nullable=False),
    )
    op.execute("ALTER TABLE runs ADD COLUMN event_id INTEGER REFERENCES events (id)")
    op.execute("ALTER TABLE runs ADD COLUMN session INTEGER")
    op.create_index("ix_runs_event_id", "runs", ["event_id"])


def _items(kind: str, *columns: sa.Column[Any]) -> None:
    """A table of items and one of their revisions."""
    table = f"{kind}s"
    op.create_table(
        table,
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("newest", sa.Integer(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.Column("changed_at", sa.DateTime(), nullable=False),
        sa.Column("deleted_at", sa.DateTime(), nullable=True),
        *columns,
    )
    op.create_index(f"ix_{table}_name", table, ["name"])
    if kind == "fit":
        op.create_index("ix_fits_plan_id", table, ["plan_id"])
    op.create_table(
        f"{kind}_revisions",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("item_id", sa.Integer(), sa.ForeignKey(f"{table}.id"), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("document", sa.String(), nullable=False),
        sa.Column("content_hash", sa.String(), nullable=False),
        sa.Column("remark", sa.String(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.UniqueConstraint("item_id", "number"),
    )
    op.create_index(f"ix_{kind}_revisions_content_hash", f"{kind}_revisions", ["content_hash"])
