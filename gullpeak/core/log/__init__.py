"""What batches leave behind: cards, records, what is learned of the kitchen, changes on trial."""
