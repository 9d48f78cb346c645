import { describe, expect, it } from "vitest";
import { byArrow, placeIn, shiftedSpan } from "./spans";

describe("a span along a recording", () => {
	const span = { begin: 2, finish: 5 };

	it("is moved whole, and never out of the recording", () => {
		expect(shiftedSpan(span, "whole", 1.234, 10)).toEqual({ begin: 3.23, finish: 6.23 });
		expect(shiftedSpan(span, "whole", -9, 10)).toEqual({ begin: 0, finish: 3 });
		expect(shiftedSpan(span, "whole", 9, 10)).toEqual({ begin: 7, finish: 10 });
	});

	it("is trimmed at either end, which never passes the other", () => {
		expect(shiftedSpan(span, "begin", 9, 10)).toEqual({ begin: 4.8, finish: 5 });
		expect(shiftedSpan(span, "finish", -9, 10)).toEqual({ begin: 2, finish: 2.2 });
		expect(shiftedSpan(span, "finish", 99, 10)).toEqual({ begin: 2, finish: 10 });
	});

	it("goes by arrows, plainly and finely, and leaves other keys alone", () => {
		expect(byArrow(span, "ArrowRight", false, false, 10)).toEqual({ begin: 3, finish: 6 });
		expect(byArrow(span, "ArrowLeft", true, true, 10)).toEqual({ begin: 2, finish: 4.9 });
		expect(byArrow(span, "x", false, false, 10)).toBeUndefined();
	});

	it("stands where the part that is seen has it", () => {
		expect(placeIn({ begin: 0, finish: 10 }, span)).toEqual({ left: "20%", width: "30%" });
		expect(placeIn({ begin: 4, finish: 8 }, span)).toEqual({ left: "0%", width: "25%" });
		expect(placeIn({ begin: 6, finish: 8 }, span)).toBeUndefined();
	});
});
