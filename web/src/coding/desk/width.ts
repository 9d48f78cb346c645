import { type RefObject, useLayoutEffect, useState } from "react";

/** As wide as the last text was: to find out after it is drawn would lay all of it out twice. */
let lastWidth = 1000;

/** The width that text and cards share. A container query would lay the whole text out anew at every change of it. */
export function useWidth(frame: RefObject<HTMLDivElement | null>): number {
	const [width, setWidth] = useState(lastWidth);
	useLayoutEffect(() => {
		const measure = () => {
			if (!frame.current) return;
			lastWidth = frame.current.clientWidth || 1000;
			setWidth(lastWidth);
		};
		measure();
		const watch = new ResizeObserver(measure);
		if (frame.current) watch.observe(frame.current);
		return () => watch.disconnect();
	}, [frame]);
	return width;
}
