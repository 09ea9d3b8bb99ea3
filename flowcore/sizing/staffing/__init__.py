"""Who is needed when, the rosters that cover that, and the rosters next to one."""
