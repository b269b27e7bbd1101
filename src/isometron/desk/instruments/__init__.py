"""What lies round the board: dial, rails, strips, ledger."""
