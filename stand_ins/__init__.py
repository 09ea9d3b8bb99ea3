"""Small programs that write logs of a made-up service as devices do, quirks and all, to try and to test with."""
