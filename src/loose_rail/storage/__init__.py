"""The shop's database: SQLite through SQLAlchemy, one transaction for every accepted event."""
