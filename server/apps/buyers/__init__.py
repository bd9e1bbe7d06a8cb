"""What a buyer sees and says of a quote, under an address of its own."""
