"""Runs as they were driven, with their revisions."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    op.create_table(
        "runs",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("newest", sa.Integer(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.Column("changed_at", sa.DateTime(), nullable=False),
        sa.Column("deleted_at", sa.DateTime(), nullable=True),
        sa.Column("plan_id", sa.Integer(), sa.ForeignKey("plans.id"), nullable=True),
        sa.Column("circuit", sa.String(), nullable=False),
        sa.Column("car", sa.String(), nullable=False),
        sa.Column("driven_at", sa.String(), nullable=False),
        sa.Column("lap_count", sa.Integer(), nullable=False),
        sa.Column("best_lap_s", sa.Double(), nullable=True),
    )
    for column in ("name", "plan_id", "circuit"):
        op.create_index(f"ix_runs_{column}", "runs", [column])
    op.create_table(
        "run_revisions",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("item_id", sa.Integer(), sa.ForeignKey("runs.id"), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("document", sa.String(), nullable=False),
        sa.Column("content_hash", sa.String(), nullable=False),
        sa.Column("remark", sa.String(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.UniqueConstraint("item_id", "number"),
    )
    op.create_index("ix_run_revisions_content_hash", "run_revisions", ["content_hash"])
