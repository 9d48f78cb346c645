import { type RefObject, useEffect, useMemo } from "react";
import { say } from "../../language/say";
import type { DeskDocument } from "../data";

/** Seconds a line stays where nobody said when its turn ends, and the shortest that can be read at all. */
const STAYS = 6;
const SHORTEST = 0.5;

export interface Cue {
	begin: number;
	finish: number;
	text: string;
}

/** What is said when and by whom: nothing for turns without times. Words as WebVTT (the W3C's timed text) writes them. */
export function cuesOf({ turns, speakers, text }: Pick<DeskDocument, "turns" | "speakers" | "text">): Cue[] {
	const names = new Map(speakers.map((speaker) => [speaker.id, speaker.case_name || speaker.label]));
	const timed = turns.filter((turn) => turn.begin !== null);
	return timed.map((turn, at) => {
		const begin = turn.begin ?? 0;
		const finish = turn.finish ?? timed[at + 1]?.begin ?? begin + STAYS;
		const said = plain(text.slice(turn.start, turn.end));
		return { begin, finish: Math.max(finish, begin + SHORTEST), text: `${plain(names.get(turn.speaker) ?? "")}: ${said}` };
	});
}

/** Signs of its own would be taken for marks. */
function plain(said: string): string {
	return said.replace(/\s+/g, " ").trim().replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;");
}

/** Captions on a film, shown or not (WCAG 1.2.2): made here, since a file of them would be a second copy of the text. */
export function useCaptions(film: RefObject<HTMLMediaElement | null>, document: DeskDocument, shown: boolean): void {
	const { turns, speakers, text } = document;
	const cues = useMemo(() => cuesOf({ turns, speakers, text }), [turns, speakers, text]);
	useEffect(() => {
		const held = film.current;
		// A track can't be taken off a film again: the first is used anew.
		const track = held?.textTracks?.[0] ?? held?.addTextTrack?.("captions", say("What is said"));
		if (!track) return;
		track.mode = "hidden";
		for (const old of [...(track.cues ?? [])]) track.removeCue(old);
		for (const cue of cues) track.addCue(new VTTCue(cue.begin, cue.finish, cue.text));
		track.mode = shown ? "showing" : "hidden";
	}, [film, cues, shown]);
}
