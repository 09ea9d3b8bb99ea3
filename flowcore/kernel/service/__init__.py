"""Cases and members together: who is next, the work, shifts and absences."""
