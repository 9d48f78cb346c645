import { say } from "../../language/say";
import { byArrow, type Region, type Turns } from "../regions";

/** A region moved and resized by clicks: what dragging it and the arrow keys do (WCAG 2.5.7). */
export function RegionSteps({ region, turns, onChange }: { region: Region; turns: Turns; onChange: (region: Region) => void }) {
	const steps: [string, string, string, boolean][] = [
		["←", say("Region to the left"), "ArrowLeft", false],
		["→", say("Region to the right"), "ArrowRight", false],
		["↑", say("Region up"), "ArrowUp", false],
		["↓", say("Region down"), "ArrowDown", false],
		["⇥", say("Region wider"), "ArrowRight", true],
		["⇤", say("Region narrower"), "ArrowLeft", true],
		["⤓", say("Region taller"), "ArrowDown", true],
		["⤒", say("Region less tall"), "ArrowUp", true],
	];
	return (
		<fieldset className="inline-flex items-center">
			<legend className="sr-only">{say("Move and resize the region")}</legend>
			{steps.map(([sign, name, key, resize]) => (
				<button
					key={name}
					type="button"
					aria-label={name}
					title={name}
					className="sign text-quiet hover:text-ink"
					onMouseDown={(event) => event.preventDefault()}
					onClick={() => {
						const next = byArrow(region, key, turns, resize, false);
						if (next) onChange(next);
					}}
				>
					{sign}
				</button>
			))}
		</fieldset>
	);
}
