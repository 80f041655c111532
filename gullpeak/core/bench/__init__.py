"""A sheet as steps, and a batch under way: its events, its watches, what its readings say."""
