"""Recovery codes are kept as slowly hashed as passwords."""

import json

import sqlalchemy as sa
from alembic import op
from argon2 import PasswordHasher

revision = "0025"
down_revision = "0024"
branch_labels = None
depends_on = None

OF_CODES = sa.text("SELECT id, recovery FROM account WHERE recovery <> '[]'::jsonb")
KEEP = sa.text("UPDATE account SET recovery = CAST(:kept AS jsonb) WHERE id = :id")


def upgrade() -> None:
    hasher, link = PasswordHasher(), op.get_bind()
    for number, codes in link.execute(OF_CODES).all():
        link.execute(KEEP, {"id": number, "kept": json.dumps([hasher.hash(code) for code in codes])})


def downgrade() -> None:
    op.execute("UPDATE account SET recovery = '[]'::jsonb")  # what they were hashed from is known to nobody
