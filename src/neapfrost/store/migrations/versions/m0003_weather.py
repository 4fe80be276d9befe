"""Records of the weather with their revisions, and the record that a plan is looked at along."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    op.create_table(
        "weathers",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("newest", sa.Integer(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.Column("changed_at", sa.DateTime(), nullable=False),
        sa.Column("deleted_at", sa.DateTime(), nullable=True),
        sa.Column("begins_at", sa.String(), nullable=False),
        sa.Column("reading_count", sa.Integer(), nullable=False),
        sa.Column("weather_count", sa.Integer(), nullable=False),
    )
    op.create_index("ix_weathers_name", "weathers", ["name"])
    op.create_table(
        "weather_revisions",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("item_id", sa.Integer(), sa.ForeignKey("weathers.id"), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("document", sa.String(), nullable=False),
        sa.Column("content_hash", sa.String(), nullable=False),
        sa.Column("remark", sa.String(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.UniqueConstraint("item_id", "number"),
    )
    op.create_index("ix_weather_revisions_content_hash", "weather_revisions", ["content_hash"])
    # Plans from before are looked at along no weather until one is chosen. The table is not made
    # anew: its rows are what the steps of each plan point at.
    op.execute("ALTER TABLE plans ADD COLUMN weather_id INTEGER REFERENCES weathers (id)")
    op.execute("ALTER TABLE plans ADD COLUMN follows_station BOOLEAN NOT NULL DEFAULT 0")
    op.create_index("ix_plans_weather_id", "plans", ["weather_id"])
