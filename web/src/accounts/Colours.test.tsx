import { screen } from "@testing-library/react";
import { act } from "react";
import { expect, it } from "vitest";
import { show } from "../tests/harness";
import { SESSION } from "../tests/samples";
import { serve } from "../tests/server";
import { followTheme } from "../ui/theme";
import { AccountMenu } from "./AccountMenu";

it("colours follow the machine until somebody chooses, and the choice stays", async () => {
	serve({ "GET !/session": SESSION });
	const { user } = show(<AccountMenu />);
	const root = document.documentElement;
	followTheme();
	expect(root.dataset.theme).toBeUndefined();
	await user.click(await screen.findByRole("button", { name: /^Account of/ }));
	expect(screen.getByRole("menuitem", { name: "As this computer has it" }).getAttribute("aria-current")).toBe("true");
	await user.click(screen.getByRole("menuitem", { name: "By night" }));
	expect(root.dataset.theme).toBe("dark");
	delete root.dataset.theme;
	followTheme();
	expect(root.dataset.theme).toBe("dark");
	// Another tab chooses.
	localStorage.setItem("cohortia.theme", "light");
	act(() => void window.dispatchEvent(new StorageEvent("storage")));
	expect(root.dataset.theme).toBe("light");
	await user.click(screen.getByRole("button", { name: /^Account of/ }));
	await user.click(screen.getByRole("menuitem", { name: "As this computer has it" }));
	expect(root.dataset.theme).toBeUndefined();
});
