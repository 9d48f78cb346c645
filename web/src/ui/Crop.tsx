import { useState } from "react";

const FULL = 10_000;
const WIDEST = 300;
const TALLEST = 170;

/** A part of a picture, cut out; edges in ten-thousandths of it. */
export function Crop({
	source,
	region,
	alt,
}: {
	source: string;
	region: { left: number; top: number; right: number; bottom: number };
	alt: string;
}) {
	const [size, setSize] = useState({ width: 4, height: 3 });
	const across = (region.right - region.left) / FULL;
	const down = (region.bottom - region.top) / FULL;
	const ratio = (across * size.width) / (down * size.height);
	const width = Math.min(WIDEST, TALLEST * ratio);
	return (
		<span className="relative block max-w-full overflow-hidden rounded border border-line bg-card" style={{ width, aspectRatio: ratio }}>
			<img
				src={source}
				alt={alt}
				loading="lazy"
				className="absolute max-w-none"
				style={{
					width: `${100 / across}%`,
					left: `${(-region.left / FULL / across) * 100}%`,
					top: `${(-region.top / FULL / down) * 100}%`,
				}}
				onLoad={(event) => setSize({ width: event.currentTarget.naturalWidth || 4, height: event.currentTarget.naturalHeight || 3 })}
			/>
		</span>
	);
}
