"""What may be said of the data: results in, frozen claims out; words only word them."""
