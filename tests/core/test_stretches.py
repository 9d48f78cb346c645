"""Where somebody speaks becomes turns to be typed."""

import numpy as np
import pytest

from core.gather.stretches import FRAME, LONGEST, Stretch, channel_a_speaker, spoken_stretches, to_be_typed


def speech(seconds, *channels):
    """Frames in which somebody speaks, from … to …, a column a channel."""
    found = np.zeros((round(seconds / FRAME), len(channels)), bool)
    for column, times in enumerate(channels):
        for begin, finish in times:
            found[round(begin / FRAME) : round(finish / FRAME), column] = True
    return found


def test_a_pause_ends_a_stretch_and_a_breath_does_not():
    found = spoken_stretches(speech(12, [(1, 3), (3.4, 5), (6.2, 8)]))
    assert found == [Stretch(1.0, 5.0), Stretch(6.2, 8.0)]


def test_a_cough_is_none_and_what_goes_on_is_cut():
    found = spoken_stretches(speech(100, [(1, 1.2), (10, 85)]))
    assert [one.begin for one in found] == [10.0, 40.0, 70.0]
    assert max(one.finish - one.begin for one in found) <= LONGEST
    assert found[-1].finish == 85.0


@pytest.mark.parametrize(
    ("channels", "apart"),
    [
        (([(1, 5), (10, 14)], [(5, 9), (14, 18)]), True),
        (([(1, 18)], [(1, 18)]), False),  # one microphone, in stereo
        (([(1, 18)], []), False),
        (([(1, 18)], [(1, 1.5)]), False),  # a cough on the other
    ],
)
def test_two_channels_are_two_people_only_where_mostly_one_speaks(channels, apart):
    assert channel_a_speaker(speech(20, *channels)) is apart


def test_a_channel_a_speaker_gives_turns_in_order_of_time():
    found = spoken_stretches(speech(20, [(1, 5), (10, 14)], [(5.5, 9), (15, 18)]))
    assert [(one.begin, one.channel) for one in found] == [(1.0, 0), (5.5, 1), (10.0, 0), (15.0, 1)]
    laid = to_be_typed(found, 20.0)
    assert [speaker.label for speaker in laid.speakers] == ["Channel 1", "Channel 2"]
    assert [speaker.turns for speaker in laid.speakers] == [2, 2]


def test_turns_without_a_word_cover_a_text_of_line_breaks():
    laid = to_be_typed([Stretch(0.5, 2.0), Stretch(3.0, 4.5), Stretch(6.0, 61.25)], 70.0)
    assert laid.text == "\n\n"
    assert [(turn.start, turn.end) for turn in laid.turns] == [(0, 1), (1, 2), (2, 2)]
    assert [turn.time for turn in laid.turns] == ["0:00", "0:03", "0:06"]
    assert laid.words == 0
    (whole,) = to_be_typed([], 70.0).turns
    assert (whole.begin, whole.finish) == (0.0, 70.0)
