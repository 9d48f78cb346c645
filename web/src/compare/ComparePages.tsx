import { say } from "../language/say";
import { StepPages } from "../project/StepPages";

const PAGES = [
	{ page: "compare", label: say("Groups") },
	{ page: "compare/together", label: say("Codes with codes") },
	{ page: "compare/passages", label: say("Passages") },
	{ page: "compare/overview", label: say("Overview") },
	{ page: "compare/frozen", label: say("Frozen") },
];

/** The pages of this step, one beside the other. */
export const ComparePages = () => <StepPages name={say("Pages of comparing")} pages={PAGES} />;
