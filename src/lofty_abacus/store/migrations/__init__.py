"""Alembic's environment and versions."""
