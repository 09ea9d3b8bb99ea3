"""What stands in a file: XML read without harm, what it draws, and its parameters."""
