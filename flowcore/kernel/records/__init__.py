"""What there is: the plan, the state and the ledger as tables of records, and their kinds."""
