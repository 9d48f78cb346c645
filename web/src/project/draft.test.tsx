import { screen } from "@testing-library/react";
import { useState } from "react";
import { afterEach, expect, it, vi } from "vitest";
import { show } from "../tests/harness";
import { Mishap } from "../ui/Mishap";
import { dropDrafts, useAskBeforeLeaving, useDraft } from "./draft";

afterEach(() => void vi.restoreAllMocks());

let falls = false;

function Field({ of }: { of: string }) {
	const [text, setText, done] = useDraft(`words on ${of}`, "");
	useAskBeforeLeaving();
	const [, redraw] = useState(0);
	if (falls) throw new Error("stumbled");
	return (
		<>
			<input aria-label={of} value={text} onChange={(event) => setText(event.target.value)} />
			<button type="button" onClick={done}>
				Keep
			</button>
			<button type="button" onClick={() => redraw((times) => times + 1)}>
				Again
			</button>
		</>
	);
}

const value = (of: string) => (screen.getByRole("textbox", { name: of }) as HTMLInputElement).value;
const asksBeforeLeaving = () => !window.dispatchEvent(new Event("beforeunload", { cancelable: true }));

it("what was typed is there again when the page stumbled, until it is kept", async () => {
	vi.spyOn(console, "error").mockImplementation(() => undefined);
	const { user } = show(
		<Mishap at="">
			<Field of="a code" />
		</Mishap>,
	);
	expect(asksBeforeLeaving()).toBe(false);
	await user.type(screen.getByRole("textbox"), "late boats");
	falls = true;
	await user.click(screen.getByRole("button", { name: "Again" }));
	expect(screen.getByRole("alert").textContent).toContain("stumbled");
	falls = false;
	await user.click(screen.getByRole("button", { name: "Show the page again" }));
	expect(value("a code")).toBe("late boats");
	expect(asksBeforeLeaving()).toBe(true);
	await user.click(screen.getByRole("button", { name: "Keep" }));
	expect(value("a code")).toBe("");
	expect(asksBeforeLeaving()).toBe(false);
});

function OneOrOther() {
	const [of, setOf] = useState("one");
	return (
		<>
			<Field of={of} />
			<button type="button" onClick={() => setOf(of === "one" ? "other" : "one")}>
				Turn
			</button>
		</>
	);
}

it("words typed on one thing aren’t shown on another, and nobody finds them after signing out", async () => {
	const { user } = show(<OneOrOther />);
	const turn = () => user.click(screen.getByRole("button", { name: "Turn" }));
	await user.type(screen.getByRole("textbox"), "first");
	await turn();
	expect(value("other")).toBe("");
	await turn();
	expect(value("one")).toBe("first");
	dropDrafts();
	await turn();
	await turn();
	expect(value("one")).toBe("");
});
