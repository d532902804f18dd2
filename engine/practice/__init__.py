"""A made-up car to practise on: a truth that nobody sees, tools that read it with errors, metal that stays as it is cut."""
