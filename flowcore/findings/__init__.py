"""What a run or a comparison says, in sentences: one module a kind of sentence."""
