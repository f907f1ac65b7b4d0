"""What would happen over and over: shuffles and samples drawn again."""
