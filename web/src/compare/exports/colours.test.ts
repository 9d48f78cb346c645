import { afterEach, describe, expect, it, vi } from "vitest";
import { byDay, plain, plainly } from "./colours";

afterEach(() => {
	vi.restoreAllMocks();
	delete document.documentElement.dataset.theme;
	document.documentElement.removeAttribute("style");
});

describe("colours of a picture", () => {
	it("are those of the day, and the page’s own come back", () => {
		document.documentElement.dataset.theme = "dark";
		expect(byDay(() => document.documentElement.dataset.theme)).toBe("light");
		expect(document.documentElement.dataset.theme).toBe("dark");
		delete document.documentElement.dataset.theme;
		expect(() =>
			byDay(() => {
				throw new Error("too large");
			}),
		).toThrow("too large");
		expect(document.documentElement.dataset.theme).toBeUndefined();
	});

	it("are written so that any program reads them", () => {
		expect(plain("rgb(20, 85, 90)")).toBe("rgb(20, 85, 90)");
		const painted = { data: new Uint8ClampedArray([1, 2, 3, 255]) };
		const pen = { fillRect: () => undefined, getImageData: () => painted, fillStyle: "" };
		vi.spyOn(HTMLCanvasElement.prototype, "getContext").mockReturnValue(pen as unknown as null);
		expect(plain("color(srgb 0.1 0.2 0.3)")).toBe("rgb(1, 2, 3)");
		painted.data[3] = 51;
		expect(plain("oklab(0.5 0 0 / 0.2)")).toBe("rgba(1, 2, 3, 0.200)");
	});

	it("don’t need the page: tokens are written out", () => {
		vi.spyOn(window, "getComputedStyle").mockImplementation(
			(element) =>
				({ color: (element as HTMLElement).style.color.includes("ink") ? "rgb(29, 36, 51)" : "rgb(196, 126, 50)" }) as CSSStyleDeclaration,
		);
		const drawn = '<svg><path stroke="var(--color-code-0)"/><text fill="var(--color-ink)">var(x)</text></svg>';
		expect(plainly(drawn)).toBe('<svg><path stroke="rgb(196, 126, 50)"/><text fill="rgb(29, 36, 51)">var(x)</text></svg>');
		expect(document.querySelector("body > i")).toBeNull();
	});
});
