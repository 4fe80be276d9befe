"""Steps that one act wrote, so that it is undone as one; those from before stand alone."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    op.add_column("plan_steps", sa.Column("act", sa.Integer(), nullable=True))
