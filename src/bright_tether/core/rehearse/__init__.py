"""What would happen over and over: samples drawn again, and how many pairs a purpose needs."""
