/** Where labels stand so that none covers another: as near as can be to where each belongs, `gap` apart, between `low` and
 * `high`. All in pixels; where there isn't room for all, they begin at `low` and go on beyond `high`. */
export function apart(wanted: number[], gap: number, low: number, high: number): number[] {
	const order = wanted.map((_, at) => at).sort((a, b) => (wanted[a] ?? 0) - (wanted[b] ?? 0) || a - b);
	// Neighbours that would touch stand as one block about the middle of where they belong.
	const blocks: { places: number[]; middle: number }[] = [];
	for (const at of order) {
		let block = { places: [at], middle: wanted[at] ?? 0 };
		for (let before = blocks.at(-1); before && from(block, gap) - last(before, gap) < gap; before = blocks.at(-1)) {
			blocks.pop();
			const places = [...before.places, ...block.places];
			block = { places, middle: places.reduce((sum, place) => sum + (wanted[place] ?? 0), 0) / places.length };
		}
		blocks.push(block);
	}
	const found = [...wanted];
	for (const block of blocks) {
		const begin = from(block, gap);
		block.places.forEach((at, n) => {
			found[at] = begin + n * gap;
		});
	}
	// Pushed back in from beyond either end.
	let most = high;
	for (const at of [...order].reverse()) {
		found[at] = Math.min(found[at] ?? 0, most);
		most = (found[at] ?? 0) - gap;
	}
	let least = low;
	for (const at of order) {
		found[at] = Math.max(found[at] ?? 0, least);
		least = (found[at] ?? 0) + gap;
	}
	return found;
}

const from = (block: { places: number[]; middle: number }, gap: number) => block.middle - ((block.places.length - 1) * gap) / 2;
const last = (block: { places: number[]; middle: number }, gap: number) => from(block, gap) + (block.places.length - 1) * gap;
