"""The whole folder of a study as a zip: its versions, what its runs found, memos and data, with what links them."""
