import { say } from "../language/say";

export const BEFORE_FIRST = "Before the first speaker";
export const WHOLE = "Whole document";

/** Labels that Cohortia itself gives where nobody is named (`core/gather/transcript.py`): kept in English, as data, and read in words. */
const OURS: Record<string, string> = {
	[BEFORE_FIRST]: say("Before the first speaker"),
	[WHOLE]: say("Whole document"),
	Headings: say("Headings"),
};

/** A speaker’s label as it is read. */
export const labelOf = (label: string): string => OURS[label] ?? label;
