import { send } from "../../api/client";
import { useProject } from "../../project/project";
import { useToasts } from "../../ui/toasts";

/** Hand a file to the browser. */
export function hand(content: Blob, name: string): void {
	const link = document.createElement("a");
	link.href = URL.createObjectURL(content);
	link.download = name;
	link.click();
	URL.revokeObjectURL(link.href);
}

/** Fetch a file that the server makes, and hand it to the browser under the name the server gave it. */
async function fetched(address: string, body: object): Promise<void> {
	const response = await send(address, JSON.stringify(body), { "Content-Type": "application/json" });
	const name = response.headers.get("Content-Disposition")?.match(/filename="([^"]+)"/)?.[1] ?? "cohortia";
	hand(await response.blob(), name);
}

/** What a picture is made with: words over it and under it, and what its file is called. */
export interface Caption {
	above: string[];
	below: string[];
	name: string;
}

/** The ways out of a page: files the server makes (under the project’s address), and the figure as it stands. */
export function useSaving() {
	const { id } = useProject();
	const { warn, tell } = useToasts();
	const failed = (error: Error) => warn(error.message);
	return {
		file: (address: string, body: object, told = "Exported, with the sentence and what is left out.") =>
			fetched(`/api/projects/${id}/${address}`, body).then(() => tell(told), failed),
		/** What is marked `data-form` on the page. */
		picture: async (kind: "svg" | "png", { above, below, name }: Caption) => {
			const shown = document.querySelector<HTMLElement>("[data-form]");
			if (!shown) return;
			if (shown.querySelector("[data-in-view]"))
				return warn("That is too large for one picture: choose fewer rows or groups. The whole table leaves as .xlsx, .csv or .docx.");
			try {
				const { asPng, pictureOf } = await import("./picture");
				const drawn = pictureOf(shown, above, below);
				hand(kind === "svg" ? new Blob([drawn], { type: "image/svg+xml" }) : await asPng(drawn), `${name}.${kind}`);
				tell("Exported: the figure as it stands, with its sentence.");
			} catch (error) {
				failed(error as Error);
			}
		},
		copy: (words: string, told: string) => navigator.clipboard.writeText(words).then(() => tell(told), failed),
	};
}
