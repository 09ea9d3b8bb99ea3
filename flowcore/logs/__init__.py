"""Logs of a real service, as a kiosk, a phone switch or a spreadsheet wrote them: read, looked at and put in order."""
