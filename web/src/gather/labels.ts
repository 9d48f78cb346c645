import { say } from "../language/say";

/** Labels that Cohortia itself gives where nobody is named (`core/gather/transcript.py`): kept in English, as data, and read in words. */
const OURS: Record<string, string> = {
	"Before the first speaker": say("Before the first speaker"),
	"Whole document": say("Whole document"),
	Headings: say("Headings"),
};

/** A speaker’s label as it is read. */
export const labelOf = (label: string): string => OURS[label] ?? label;
