"""Talks about a bus driver and a clinic’s letter, with topics to be found in them; no two people’s quite alike."""

TALK = """I: Tell me about the bus driver and the letter?
{who}: The bus driver never waits. I missed the bus again, and the driver looked away. {more}
I: And the clinic letter?
{who}: The clinic wrote a letter about my appointment. The letter moved my appointment to {when}.
"""
MORE = (
    "It rained and I stood there with all the bags and my mother’s lamp.",
    "My sister laughed about that for half of the week, she likes the rain.",
    "The dog was cold. We walked home along the shore with the bags.",
)
