"""What the ledger says in all."""
