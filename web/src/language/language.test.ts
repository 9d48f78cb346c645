/** The reader of messages beside the whole form's (`icu-minify`, by FormatJS's parser), and catalogues beside what the code says. */
import reference from "icu-minify/compile";
import { expect, it } from "vitest";
import { gathered } from "../../messages/gather.mjs";
import { compile } from "./compile";

const { messages, unknown } = gathered();

it("every message is read as ICU has it", () => {
	expect(messages.size).toBeGreaterThan(1500);
	for (const words of messages.keys()) expect(compile(words), words).toEqual(reference(words));
});

it("what is said can be known from the code, but where a table of messages is looked up", () => {
	expect(unknown).toEqual(["help/terms.ts: say(text, { one, many })"]);
});
