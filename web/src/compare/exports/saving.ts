import { send } from "../../api/client";
import { fetched, hand } from "../../api/files";
import { say } from "../../language/say";
import { useProject } from "../../project/project";
import { asHtml } from "../../ui/copying";
import { useToasts } from "../../ui/toasts";

/** What a picture is made with: words over it and under it, and what its file is called. */
export interface Caption {
	above: string[];
	below: string[];
	name: string;
}

export type PictureKind = "svg" | "png" | "copy";

/** As text with tabs and as HTML. Asked for at once, so that the browser knows that somebody wants it. */
async function copiedTable(address: string, body: object): Promise<void> {
	const text = send(address, JSON.stringify(body), { "Content-Type": "application/json" }).then((answer) => answer.text());
	const lines = text.then((said) =>
		said
			.trimEnd()
			.split("\n")
			.map((line) => line.split("\t")),
	);
	const as = (kind: string, said: Promise<string>) => {
		const made = said.then((words) => new Blob([words], { type: kind }));
		made.catch(() => {});
		return made;
	};
	const written = navigator.clipboard.write([
		new ClipboardItem({ "text/plain": as("text/plain", text), "text/html": as("text/html", lines.then(asHtml)) }),
	]);
	written.catch(() => {});
	// Where the server wouldn’t, its own sentence is told: the clipboard knows nothing of it.
	await text;
	await written;
}

const TABLE = say("Copied: a table with every figure in a cell of its own.");

/** The ways out of a page: files the server makes (under the project’s address), and the figure as it stands. */
export function useSaving() {
	const { id } = useProject();
	const { warn, tell } = useToasts();
	const failed = (error: Error) => warn(error.message);
	return {
		file: (address: string, body: object, told = say("Exported, with the sentence and what is left out.")) =>
			fetched(`/api/projects/${id}/${address}`, body).then(() => tell(told), failed),
		/** What is marked `data-form` on the page: as a file, or (`copy`) put where it is pasted from. */
		picture: async (kind: PictureKind, { above, below, name }: Caption) => {
			const shown = document.querySelector<HTMLElement>("[data-form]");
			if (!shown) return;
			if (shown.querySelector("[data-in-view]"))
				return warn(say("That is too large for one picture: choose fewer rows or groups. The whole table leaves as .xlsx, .csv or .docx."));
			try {
				const { asPng, pictureOf, withLetters } = await import("./picture");
				const drawn = withLetters(pictureOf(shown, above, below));
				if (kind === "copy") {
					await navigator.clipboard.write([new ClipboardItem({ "image/png": drawn.then(asPng) })]);
					return tell(say("Copied: the figure as it stands, with its sentence."));
				}
				const svg = await drawn;
				hand(kind === "svg" ? new Blob([svg], { type: "image/svg+xml" }) : await asPng(svg), `${name}.${kind}`);
				tell(say("Exported: the figure as it stands, with its sentence."));
			} catch (error) {
				failed(error as Error);
			}
		},
		/** The table that the server makes, put where it is pasted from. */
		table: (address: string, body: object) => copiedTable(`/api/projects/${id}/${address}`, body).then(() => tell(TABLE), failed),
		copy: (words: string, told: string) => navigator.clipboard.writeText(words).then(() => tell(told), failed),
	};
}
