import { StepPages } from "../project/StepPages";

const PAGES = [
	{ page: "report", label: "Exhibits" },
	{ page: "report/digests", label: "Digests" },
];

/** The pages of this step, one beside the other. */
export const ReportPages = () => <StepPages name="Pages of reporting" pages={PAGES} />;
