"""What is known of a plan by heart: cards, and every answer."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    op.create_table(
        "drill_cards",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("plan_id", sa.Integer(), sa.ForeignKey("plans.id"), nullable=False),
        sa.Column("driver", sa.String(), nullable=False),
        sa.Column("lap", sa.String(), nullable=False),
        sa.Column("corner", sa.String(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("memory", sa.String(), nullable=False),
        sa.Column("right", sa.String(), nullable=False),
        sa.Column("inside", sa.Boolean(), nullable=False),
        sa.Column("answers", sa.Integer(), nullable=False),
        sa.Column("due_at", sa.DateTime(), nullable=False),
        sa.UniqueConstraint("plan_id", "driver", "lap", "corner", "kind"),
    )
    op.create_table(
        "drill_answers",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("plan_id", sa.Integer(), sa.ForeignKey("plans.id"), nullable=False),
        sa.Column("driver", sa.String(), nullable=False),
        sa.Column("lap", sa.String(), nullable=False),
        sa.Column("corner", sa.String(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("way", sa.String(), nullable=False),
        sa.Column("given", sa.String(), nullable=False),
        sa.Column("right", sa.String(), nullable=False),
        sa.Column("off", sa.String(), nullable=False),
        sa.Column("inside", sa.Boolean(), nullable=False),
        sa.Column("dangerous", sa.Boolean(), nullable=False),
        sa.Column("price_s", sa.Double(), nullable=True),
        sa.Column("took_s", sa.Double(), nullable=True),
        sa.Column("answered_at", sa.DateTime(), nullable=False),
    )
    op.create_index("ix_drill_answers_plan", "drill_answers", ["plan_id", "driver", "id"])
