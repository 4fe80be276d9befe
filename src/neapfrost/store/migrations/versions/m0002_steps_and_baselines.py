"""The steps of each plan, for undo and history, and the baseline of each plan."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    # Plans from before have no step yet: they open with nothing to undo and no baseline.
    op.add_column("plans", sa.Column("baseline", sa.String(), nullable=True))
    op.create_table(
        "plan_steps",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("plan_id", sa.Integer(), sa.ForeignKey("plans.id"), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("label", sa.String(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("item_id", sa.Integer(), nullable=False),
        sa.Column("before", sa.Integer(), nullable=False),
        sa.Column("after", sa.Integer(), nullable=False),
        sa.Column("car", sa.Integer(), nullable=False),
        sa.Column("circuit", sa.Integer(), nullable=False),
        sa.Column("conditions", sa.Integer(), nullable=False),
        sa.Column("plan", sa.Integer(), nullable=False),
        sa.Column("lap_before_s", sa.Double(), nullable=True),
        sa.Column("lap_after_s", sa.Double(), nullable=True),
        sa.Column("made_at", sa.DateTime(), nullable=False),
    )
    op.create_index("ix_plan_steps_plan", "plan_steps", ["plan_id", "state", "id"])
