import { say } from "../language/say";
import { StepPages } from "../project/StepPages";

const PAGES = [
	{ page: "code", label: say("Read") },
	{ page: "code/answers", label: say("Answers") },
	{ page: "code/codebook", label: say("Codebook") },
	{ page: "code/themes", label: say("Themes") },
	{ page: "code/guide", label: say("Guide") },
	{ page: "code/find", label: say("Find") },
	{ page: "code/topics", label: say("Topics") },
	{ page: "code/memos", label: say("Memos") },
];

/** The pages of this step, one beside the other. */
export function CodePages({ figures = {} }: { figures?: Record<string, string> }) {
	return <StepPages name={say("Pages of coding")} pages={PAGES.map((one) => ({ ...one, figure: figures[one.page] }))} />;
}
