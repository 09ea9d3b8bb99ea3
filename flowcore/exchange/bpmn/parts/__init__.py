"""Beside the flow: teams, calendars, properties, settings, further scenarios."""
