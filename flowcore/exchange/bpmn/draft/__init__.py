"""What is made of a drawing while it is read: stops, notes, and what everyone has at hand."""
