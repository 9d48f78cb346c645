/** Do something while the page wears the colours of the day. Nothing is painted in between. */
export function byDay<Made>(make: () => Made): Made {
	const root = document.documentElement;
	const before = root.dataset.theme;
	root.dataset.theme = "light";
	try {
		return make();
	} finally {
		if (before === undefined) delete root.dataset.theme;
		else root.dataset.theme = before;
	}
}

/** A colour as any program that draws reads it: browsers write mixed ones in words that few others know. */
export function plain(colour: string): string {
	if (!/^(color|ok|la[bc]|lch)/.test(colour)) return colour;
	const one = document.createElement("canvas").getContext("2d", { willReadFrequently: true });
	if (!one) return colour;
	one.fillStyle = colour;
	one.fillRect(0, 0, 1, 1);
	const [red, green, blue, opaque = 255] = one.getImageData(0, 0, 1, 1).data;
	return opaque === 255 ? `rgb(${red}, ${green}, ${blue})` : `rgba(${red}, ${green}, ${blue}, ${(opaque / 255).toFixed(3)})`;
}

/** A drawing with the page’s own colours written out: it has to stand without the page. */
export function plainly(drawing: string): string {
	const probe = document.body.appendChild(document.createElement("i"));
	const known = new Map<string, string>();
	const said = (name: string) => {
		probe.style.color = name;
		const found = plain(getComputedStyle(probe).color);
		known.set(name, found);
		return found;
	};
	try {
		return drawing.replace(/var\(--[\w-]+\)/g, (name) => known.get(name) ?? said(name));
	} finally {
		probe.remove();
	}
}
