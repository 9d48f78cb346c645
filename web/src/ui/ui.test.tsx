import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { act, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { useState } from "react";
import { useLocation } from "react-router";
import { afterEach, describe, expect, it, vi } from "vitest";
import { address, show, texts } from "../tests/harness";
import { Button } from "./Button";
import { Choice } from "./Choice";
import { Mishap } from "./Mishap";
import { Modal } from "./Modal";
import { CODE_COLOURS, codeColour, groupMark } from "./palette";
import { useRefused } from "./refused";
import { Segments } from "./Segments";
import { useToasts } from "./toasts";
import { counted, isoDay, percent, pValue } from "./words";

describe("words", () => {
	it("count in one or many, with thousands told apart", () => {
		expect([counted(1, "passage"), counted(0, "passage"), counted(1214, "word"), counted(2, "person", "people")]).toEqual([
			"1 passage",
			"0 passages",
			"1,214 words",
			"2 people",
		]);
	});

	it("write shares, p-values and days as readers expect them", () => {
		expect([percent(0.336), percent(null), percent(1)]).toEqual(["34", "–", "100"]);
		expect([pValue(0.00004), pValue(0.0461), pValue(0.231), pValue(0.999), pValue(null)]).toEqual(["<.001", ".046", ".23", "1", "–"]);
		expect(isoDay("2026-03-02T10:00:00Z")).toBe("2 Mar 2026");
	});
});

describe("colours", () => {
	it("come round again after the last", () => {
		expect(codeColour(CODE_COLOURS)).toBe(codeColour(0));
		expect(groupMark(8)).toEqual(groupMark(0));
	});

	it("of groups are never without a shape of their own", () => {
		const marks = Array.from({ length: 8 }, (_, index) => groupMark(index));
		expect(new Set(marks.map((mark) => mark.shape)).size).toBe(8);
		expect(new Set(marks.map((mark) => mark.colour)).size).toBe(8);
	});
});

describe("a button", () => {
	it("does one thing at a double click, and sends a form once", async () => {
		const [act, sent] = [vi.fn(), vi.fn()];
		const { user } = show(
			<form
				onSubmit={(event) => {
					event.preventDefault();
					sent();
				}}
			>
				<Button onClick={act}>Make it</Button>
				<Button type="submit">Send</Button>
			</form>,
		);
		await user.dblClick(screen.getByRole("button", { name: "Make it" }));
		await user.dblClick(screen.getByRole("button", { name: "Send" }));
		expect([act.mock.calls.length, sent.mock.calls.length]).toEqual([1, 1]);
		// By key each press counts.
		screen.getByRole("button", { name: "Make it" }).focus();
		await user.keyboard("{Enter}{Enter}");
		expect(act).toHaveBeenCalledTimes(3);
	});
});

describe("a choice", () => {
	const options = [
		{ value: 1, label: "One" },
		{ value: 2, label: "Two", hint: "the second" },
	];

	it("says its name and what is chosen, and is changed by the keys in its list", async () => {
		const onChange = vi.fn();
		const { user } = show(<Choice name="Number" value={1} options={options} onChange={onChange} />);
		await user.click(screen.getByRole("button", { name: "Number: One" }));
		await screen.findByRole("option", { name: /Two/ });
		await user.keyboard("{End}{Enter}");
		expect(onChange).toHaveBeenCalledWith(2);
	});

	it("can be shut", () => {
		show(<Choice name="Number" value={1} options={options} onChange={vi.fn()} disabled />);
		expect(screen.getByRole<HTMLButtonElement>("button", { name: "Number: One" }).disabled).toBe(true);
	});
});

describe("segments", () => {
	it("have one that is on", async () => {
		function Both() {
			const [value, setValue] = useState<"a" | "b">("a");
			return (
				<Segments
					name="Which"
					value={value}
					options={[
						{ value: "a", label: "A" },
						{ value: "b", label: "B" },
					]}
					onChange={setValue}
				/>
			);
		}
		const { user } = show(<Both />);
		await user.click(screen.getByRole("button", { name: "B" }));
		expect(screen.getAllByRole("button", { pressed: true }).map((one) => one.textContent)).toEqual(["B"]);
		expect(screen.getByRole("group", { name: "Which" })).toBeTruthy();
	});
});

describe("a dialog", () => {
	it("has the keys: in what asks for them, in its first field, or on the cross", async () => {
		const focused = () => waitFor(() => expect(document.querySelector("[role=dialog]")?.contains(document.activeElement)).toBe(true));
		const { unmount } = show(
			<Modal title="Ask" onClose={() => {}}>
				<button type="button">Before</button>
				<input aria-label="First" />
				<input aria-label="Second" />
			</Modal>,
		);
		await focused();
		expect(document.activeElement).toBe(screen.getByLabelText("First"));
		unmount();
		const asked = show(
			<Modal title="Ask" onClose={() => {}}>
				<input aria-label="First" />
				<input aria-label="Second" autoFocus />
			</Modal>,
		);
		await focused();
		expect(document.activeElement).toBe(screen.getByLabelText("Second"));
		asked.unmount();
		show(
			<Modal title="Sure?" onClose={() => {}}>
				<button type="button">Delete it</button>
			</Modal>,
		);
		await focused();
		expect(document.activeElement).toBe(screen.getByRole("button", { name: "Close" }));
	});

	it("gives the keys back to what had them, though it was opened from a menu that is gone", async () => {
		function FromMenu() {
			const [open, setOpen] = useState(false);
			return (
				<>
					<Menu>
						<MenuButton>More</MenuButton>
						<MenuItems>
							<MenuItem>
								<button type="button" onClick={() => setOpen(true)}>
									Rename
								</button>
							</MenuItem>
						</MenuItems>
					</Menu>
					{open && (
						<Modal title="Rename" onClose={() => setOpen(false)}>
							<input aria-label="Name" />
						</Modal>
					)}
				</>
			);
		}
		const { user } = show(<FromMenu />);
		screen.getByRole("button", { name: "More" }).focus();
		await user.keyboard("{Enter}");
		await user.click(await screen.findByRole("menuitem", { name: "Rename" }));
		await waitFor(() => expect(document.activeElement).toBe(screen.getByLabelText("Name")));
		await user.keyboard("{Escape}");
		await waitFor(() => expect(document.activeElement).toBe(screen.getByRole("button", { name: "More" })));
	});

	it("is closed by Escape and by its cross", async () => {
		const onClose = vi.fn();
		const { user } = show(
			<Modal title="Ask" onClose={onClose}>
				<input aria-label="Field" />
			</Modal>,
		);
		expect(screen.getByRole("dialog", { name: "Ask" })).toBeTruthy();
		await user.click(screen.getByRole("button", { name: "Close" }));
		await user.keyboard("{Escape}");
		expect(onClose).toHaveBeenCalledTimes(2);
	});
});

describe("a page that stumbles", () => {
	it("says so in its place, and is shown again", async () => {
		vi.spyOn(console, "error").mockImplementation(() => {});
		let broken = true;
		function Page() {
			if (broken) throw new Error("of nothing");
			return <p>All is well.</p>;
		}
		const { user } = show(
			<>
				<p>Around it</p>
				<Mishap at="/a">
					<Page />
				</Mishap>
			</>,
		);
		expect(screen.getByRole("alert").textContent).toContain("of nothing");
		expect(screen.getByText("Around it")).toBeTruthy();
		broken = false;
		await user.click(screen.getByRole("button", { name: "Show the page again" }));
		expect(screen.getByText("All is well.")).toBeTruthy();
	});

	it("is opened anew without what was chosen on it, where it was that it stumbled over", async () => {
		vi.spyOn(console, "error").mockImplementation(() => {});
		function Page() {
			if (useLocation().search) throw new Error("of a word in the address");
			return <p>All is well.</p>;
		}
		const { user } = show(
			<Mishap at="/a">
				<Page />
			</Mishap>,
			{ at: "/a?form=cake" },
		);
		await user.click(screen.getByRole("link", { name: "Open it anew" }));
		expect(await screen.findByText("All is well.")).toBeTruthy();
		expect(address()).toBe("/a");
	});
});

describe("notices", () => {
	afterEach(() => vi.useRealTimers());

	function Teller() {
		const { tell, warn } = useToasts();
		return (
			<>
				<button type="button" onClick={() => tell("Saved.")}>
					tell
				</button>
				<button type="button" onClick={() => warn("It can’t be saved.")}>
					warn
				</button>
			</>
		);
	}

	it("stand once each, warnings as such, and can be dismissed", async () => {
		const { user } = show(<Teller />);
		await user.click(screen.getByText("tell"));
		await user.click(screen.getByText("tell"));
		await user.click(screen.getByText("warn"));
		expect(texts(screen.getAllByRole("status"))).toEqual(["Saved.×"]);
		expect(screen.getByRole("alert").textContent).toContain("It can’t be saved.");
		await user.click(screen.getAllByRole("button", { name: "Dismiss" })[0] as HTMLElement);
		await waitFor(() => expect(screen.queryByText("Saved.")).toBeNull());
	});

	it("go by themselves, warnings later", () => {
		vi.useFakeTimers();
		show(<Teller />);
		fireEvent.click(screen.getByText("tell"));
		fireEvent.click(screen.getByText("warn"));
		vi.advanceTimersByTime(7000);
		return vi.waitFor(() => {
			expect(screen.queryByText("Saved.")).toBeNull();
			expect(screen.getByText("It can’t be saved.")).toBeTruthy();
		});
	});

	it("stay while somebody is at them", () => {
		vi.useFakeTimers();
		show(<Teller />);
		fireEvent.click(screen.getByText("tell"));
		const dismiss = screen.getByRole("button", { name: "Dismiss" });
		act(() => dismiss.focus());
		act(() => void vi.advanceTimersByTime(60_000));
		expect(screen.getByText("Saved.")).toBeTruthy();
		act(() => dismiss.blur());
		act(() => void vi.advanceTimersByTime(7000));
		expect(screen.queryByText("Saved.")).toBeNull();
	});
});

it("a choice is opened by Enter as by Space and arrows, and doesn’t submit the form around it", async () => {
	const sent = vi.fn((event: React.FormEvent) => event.preventDefault());
	const chosen = vi.fn();
	const { user } = show(
		<form onSubmit={sent}>
			<Choice
				name="Form"
				value="bars"
				options={[
					{ value: "bars", label: "Bars" },
					{ value: "table", label: "Table" },
				]}
				onChange={chosen}
			/>
			<button type="submit">Go</button>
		</form>,
	);
	await user.tab();
	await user.keyboard("{Enter}");
	expect(await screen.findByRole("option", { name: "Table" })).toBeTruthy();
	await user.keyboard("{ArrowDown}{Enter}");
	expect(chosen).toHaveBeenCalledWith("table");
	expect(sent).not.toHaveBeenCalled();
});

it("a refusal is said at once and tied to its field", () => {
	function Form({ error }: { error: Error | null }) {
		const refused = useRefused(error);
		return (
			<>
				<input aria-label="Name" {...refused.field} />
				{refused.said}
			</>
		);
	}
	const { rerender } = render(<Form error={null} />);
	expect(screen.getByLabelText("Name").hasAttribute("aria-invalid")).toBe(false);
	rerender(<Form error={new Error("There is a person called P1 already.")} />);
	const field = screen.getByLabelText("Name");
	expect(field.getAttribute("aria-invalid")).toBe("true");
	expect(screen.getByRole("alert").id).toBe(field.getAttribute("aria-describedby"));
	expect(screen.getByRole("alert").textContent).toBe("There is a person called P1 already.");
});
