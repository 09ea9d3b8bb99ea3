"""From the ledger of a replication to figures, and from many replications to intervals."""
