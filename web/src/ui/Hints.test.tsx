import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, it } from "vitest";
import { Hints } from "./Hints";

it("what rests in titles is shown where the keys come to, and put away by Esc", async () => {
	const user = userEvent.setup();
	const { container } = render(
		<>
			<button type="button" title="Delete; undo brings it back">
				×
			</button>
			<button type="button">
				Open <span title="19 of 24 are P14’s">most by one</span>
			</button>
			<button type="button" title="Plain">
				Plain
			</button>
			{/* biome-ignore lint/a11y/noNoninteractiveTabindex: a text that scrolls by key, as at the desk */}
			<section aria-label="Text" tabIndex={0}>
				A whole text <span title="Island: Holm">P1</span>
			</section>
			<Hints />
		</>,
	);
	const told = () => container.querySelector("[data-hint]")?.textContent ?? null;
	expect(told()).toBeNull();
	await user.tab();
	expect(told()).toBe("Delete; undo brings it back");
	await user.keyboard("{Escape}");
	expect(told()).toBeNull();
	await user.tab();
	expect(told()).toBe("19 of 24 are P14’s");
	// Nothing is said twice, and nothing of what stands in a whole text.
	await user.tab();
	expect(told()).toBeNull();
	await user.tab();
	expect(told()).toBeNull();
	await user.click(screen.getByRole("button", { name: "×" }));
	expect(told()).toBeNull();
});
