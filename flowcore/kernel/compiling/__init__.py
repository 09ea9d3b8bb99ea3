"""How the kernel becomes machine code: the compiler, and how its functions get their arrays."""
