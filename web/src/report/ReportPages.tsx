import { say } from "../language/say";
import { StepPages } from "../project/StepPages";

const PAGES = [
	{ page: "report", label: say("Exhibits") },
	{ page: "report/digests", label: say("Digests") },
];

/** The pages of this step, one beside the other. */
export const ReportPages = () => <StepPages name={say("Pages of reporting")} pages={PAGES} />;
