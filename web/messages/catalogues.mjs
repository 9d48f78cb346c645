// Each language's words as a script of their own, and the page that is sent with it: whoever reads English loads none.
import compile from "icu-minify/compile";
import { catalogueOf, keyOf, languages } from "./gather.mjs";

/** What the page is sent with, for `src/language/say.ts`. */
export function scriptOf(language) {
	const messages = {};
	for (const item of catalogueOf(language).items) if (item.msgstr[0]) messages[keyOf(item)] = compile(item.msgstr[0]);
	return `globalThis.cohortiaWords=${JSON.stringify({ language, messages })};`;
}

/** index.html once more for each language, naming its script before all others. */
export function catalogues() {
	return {
		name: "cohortia-catalogues",
		apply: "build",
		enforce: "post",
		generateBundle(_, bundle) {
			const page = bundle["index.html"].source;
			for (const language of languages()) {
				const script = this.emitFile({ type: "asset", name: `words-${language}.js`, source: scriptOf(language) });
				const source = page
					.replace('<html lang="en">', `<html lang="${language}">`)
					.replace('<script type="module"', `<script defer src="/${this.getFileName(script)}"></script>\n    <script type="module"`);
				this.emitFile({ type: "asset", fileName: `index.${language}.html`, source });
			}
		},
	};
}
