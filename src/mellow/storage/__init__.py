"""The database: Django's own for SQLite, whose connections are kept open between requests."""
