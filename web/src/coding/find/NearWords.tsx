import { say } from "../../language/say";
import type { Found } from "../overview";

/** Words that are said and written nearly so: each opens its own hits. */
export function NearWords({ near, onWord }: { near: Found["near"]; onWord: (word: string) => void }) {
	return (
		<p className="mb-2 text-[13.4px]">
			<span className="text-quiet">{say("In the texts, written nearly so:")}</span>{" "}
			{near.map((one, at) => (
				<span key={one.word}>
					{at > 0 && ", "}
					<button type="button" className="font-serif text-[15px] text-spruce hover:underline" onClick={() => onWord(one.word)}>
						{one.word}
					</button>{" "}
					<span className="text-quiet">{one.count}</span>
				</span>
			))}
		</p>
	);
}
