import { StepPages } from "../project/StepPages";

const PAGES = [
	{ page: "code", label: "Read" },
	{ page: "code/answers", label: "Answers" },
	{ page: "code/codebook", label: "Codebook" },
	{ page: "code/themes", label: "Themes" },
	{ page: "code/find", label: "Find" },
	{ page: "code/memos", label: "Memos" },
];

/** The pages of this step, one beside the other. */
export function CodePages({ figures = {} }: { figures?: Record<string, string> }) {
	return <StepPages name="Pages of coding" pages={PAGES.map((one) => ({ ...one, figure: figures[one.label] }))} />;
}
