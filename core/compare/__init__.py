"""Comparing groups. Read in this order:

question   what is asked: rows × groups, a measure, a base, a scope
groups     the columns: a label on people, or on talks          rows      each row a set of passages
tally      everything countable, read once                      counts    what a table leaves out
measures   one file a measure: its words, bases and figures     tests     which test fits the groups
asked      who was asked about a row                        by_part   rows whose people differ, put together
result     the answer, part by part when asked for              evidence  the passages behind a number
told       the sentence, left-out line, cautions, findings and methods: what is said, each of a kind
"""
