import { StepPages } from "../project/StepPages";

const PAGES = [
	{ page: "compare", label: "Groups" },
	{ page: "compare/together", label: "Codes with codes" },
	{ page: "compare/passages", label: "Passages" },
	{ page: "compare/overview", label: "Overview" },
	{ page: "compare/frozen", label: "Frozen" },
];

/** The pages of this step, one beside the other. */
export const ComparePages = () => <StepPages name="Pages of comparing" pages={PAGES} />;
