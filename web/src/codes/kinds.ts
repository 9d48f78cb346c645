import { say } from "../language/say";
import type { Code } from "./data";

export type Kind = NonNullable<Code["kind"]>;

/** What a code does with what is said. */
export const KINDS: Record<Kind, string> = {
	describing: say("describing"),
	interpreting: say("interpreting"),
	"": say("neither"),
};

export const KIND_HINTS: Record<Kind, string> = {
	describing: say("what was said, in or near the speaker’s own words"),
	interpreting: say("what the researcher makes of it"),
	"": say("or nobody has said yet"),
};

/** Whether any code says that it is one: only then is there something to choose. */
export function anyKind(codes: Code[]): boolean {
	return codes.some((code) => code.kind);
}
