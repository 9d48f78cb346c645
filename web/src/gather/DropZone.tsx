import { type ReactNode, useRef, useState } from "react";
import { ENDINGS } from "../api/grammar.gen";
import { say } from "../language/say";
import { Button } from "../ui/Button";

const { codebooks: _, ...ENDINGS_OF } = ENDINGS;
export const ACCEPTED = Object.values(ENDINGS_OF)
	.flat()
	.map((ending) => `.${ending}`)
	.join(",");

/** Files can be dropped anywhere on what it surrounds. */
export function DropZone({ onFiles, children }: { onFiles: (files: File[]) => void; children: ReactNode }) {
	const [over, setOver] = useState(false);
	return (
		// biome-ignore lint/a11y/noStaticElementInteractions: dropping is a second way; the button beside it is the first
		<div
			className="relative filling"
			onDragOver={(event) => {
				if (!event.dataTransfer.types.includes("Files")) return;
				event.preventDefault();
				setOver(true);
			}}
			onDragLeave={(event) => event.currentTarget === event.target && setOver(false)}
			onDrop={(event) => {
				if (!event.dataTransfer.types.includes("Files")) return;
				event.preventDefault();
				setOver(false);
				onFiles([...event.dataTransfer.files]);
			}}
		>
			{children}
			{over && (
				<div className="pointer-events-none absolute inset-3 z-40 grid place-items-center rounded-lg border-2 border-dashed border-spruce bg-spruce-soft/90 font-serif text-xl text-spruce">
					{say("Let go to add the files")}
				</div>
			)}
		</div>
	);
}

export function ChooseFiles({
	onFiles,
	label = say("Choose files"),
	main = false,
}: {
	onFiles: (files: File[]) => void;
	label?: string;
	main?: boolean;
}) {
	const input = useRef<HTMLInputElement>(null);
	return (
		<>
			<Button look={main ? "main" : "usual"} onClick={() => input.current?.click()}>
				{label}
			</Button>
			<input
				ref={input}
				type="file"
				multiple
				hidden
				aria-label={label}
				accept={ACCEPTED}
				onChange={(event) => {
					onFiles([...(event.target.files ?? [])]);
					event.target.value = "";
				}}
			/>
		</>
	);
}
