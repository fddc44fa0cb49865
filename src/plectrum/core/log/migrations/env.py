"""Runs the changes over the connection that the store hands in."""

from alembic import context

from plectrum.core.log.tables import metadata

context.configure(
    connection=context.config.attributes["connection"],
    target_metadata=metadata,
    render_as_batch=True,
)
context.run_migrations()
