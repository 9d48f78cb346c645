import { say } from "../language/say";
import { useDraft } from "../project/draft";
import { useMayCode } from "../project/project";
import { Button } from "../ui/Button";
import { useToasts } from "../ui/toasts";
import { type DigestOf, digestOf, useDigests, useWriteDigest } from "./data";

/** What the researcher writes of one person on one code or theme; opened where there is none yet. */
export function DigestBox({ person, identifier, of }: { person: number; identifier: string; of: DigestOf }) {
	const mayCode = useMayCode();
	const held = digestOf(useDigests().data, person, of);
	const write = useWriteDigest();
	const { tell } = useToasts();
	const [text, setText, done] = useDraft<string | null>(`digest of ${person} on ${JSON.stringify(of)}`, null);
	if (text === null)
		return (
			<div className="mx-4 mb-1 flex items-baseline gap-2">
				{held && (
					<p className="min-w-0 flex-1 border-l-2 border-spruce/40 pl-2 text-[13.4px] leading-snug whitespace-pre-line">{held.text}</p>
				)}
				{mayCode && (
					<button
						type="button"
						aria-label={
							held ? say("Change the digest of {identifier}", { identifier }) : say("Write a digest of {identifier}", { identifier })
						}
						className="text-[12.2px] font-semibold text-spruce hover:underline"
						onClick={() => setText(held?.text ?? "")}
					>
						{held ? say("Change") : say("Write a digest")}
					</button>
				)}
			</div>
		);
	return (
		<form
			className="mx-4 mb-2"
			onSubmit={(event) => {
				event.preventDefault();
				write.mutate(
					{ case: person, text, ...of },
					{
						onSuccess: () => {
							tell(text.trim() ? say("The digest is kept.") : say("The digest is taken away. Ctrl Z brings it back."));
							done();
						},
					},
				);
			}}
		>
			<textarea
				aria-label={say("Digest of {identifier}", { identifier })}
				className="field mb-1.5 h-24 w-full font-serif"
				dir="auto"
				placeholder={say("In your words: what this person says about it, as a whole.")}
				value={text}
				onChange={(event) => setText(event.target.value)}
				// The box was just asked for.
				autoFocus
			/>
			<span className="flex gap-2">
				<Button type="submit" look="main" disabled={!text.trim() && !held}>
					{say("Keep")}
				</Button>
				<Button onClick={done}>{say("Cancel")}</Button>
			</span>
		</form>
	);
}
