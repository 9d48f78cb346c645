import { say } from "../../language/say";

/** Languages whose word forms are known, and whose words that say nothing are. */
export const LANGUAGES = [
	{ value: "danish", label: say("Danish") },
	{ value: "dutch", label: say("Dutch") },
	{ value: "english", label: say("English") },
	{ value: "finnish", label: say("Finnish") },
	{ value: "french", label: say("French") },
	{ value: "german", label: say("German") },
	{ value: "italian", label: say("Italian") },
	{ value: "norwegian", label: say("Norwegian") },
	{ value: "portuguese", label: say("Portuguese") },
	{ value: "russian", label: say("Russian") },
	{ value: "spanish", label: say("Spanish") },
	{ value: "swedish", label: say("Swedish") },
];

/** The language of Cohortia’s own words → the one whose words that say nothing are left out at first. */
export const OWN_IDLE: Record<string, string> = { en: "english", de: "german" };
