/** In which language a text is, so that it is read out as it is written (WCAG 3.1.2): by its letters, or by the small words
 * that no text of some length goes without. Languages by their tags (BCP 47). */

/** Scripts that tell a language, or nearly; the first that most letters belong to. */
const SCRIPTS: [string, RegExp][] = [
	["ja", /[\p{Script=Hiragana}\p{Script=Katakana}]/gu],
	["ko", /\p{Script=Hangul}/gu],
	["zh", /\p{Script=Han}/gu],
	["el", /\p{Script=Greek}/gu],
	["he", /\p{Script=Hebrew}/gu],
	["th", /\p{Script=Thai}/gu],
	["hi", /\p{Script=Devanagari}/gu],
	["ka", /\p{Script=Georgian}/gu],
	["hy", /\p{Script=Armenian}/gu],
];

const SMALL: Record<string, string> = {
	en: "the and of to in that it is was for with you they we not but this are have he she what there his her had were been from",
	de: "der die und das ist nicht ich zu mit den ein es sie auf für von dem auch eine wir sich aber war wie man noch dann haben hat",
	fr: "le la les et des est une que pas pour qui dans je nous vous sur avec mais il elle était cette au ont être ce du ne plus",
	es: "el la los las y que es una no por con para se en del pero lo como más está yo ella muy había cuando también al le",
	pt: "o a os as e que é uma não por com para se em do da mas como mais está eu ela muito tinha quando também ao não foi",
	it: "il la i gli e che è una non per con di del della ma come più io lei molto era quando anche sono si lo questo nel",
	nl: "de het een en van dat is niet ik te met zijn op voor maar we ze ook was er naar als heb hebben bij nog dan wij aan",
	sv: "och att det som är inte jag en på för med de av men vi den har till om så var man när ska också från ett hade",
	nb: "og at det som er ikke jeg en på for med av men vi den har til om så var man når skal også fra et hadde seg noen hva etter nå opp bare være meg deg da blir ble",
	da: "og at det som er ikke jeg en på for med af men vi den har til om så var man når skal også fra et havde sig nogen hvad efter nu op kun være mig dig da bliver blev",
	fi: "ja on ei että se hän mutta niin oli kun minä me he ovat ole mitä tämä sitten vain myös kuin joka ne siellä",
	pl: "i w nie że się na z do to jest jak ale co za po tak był ja ona przez czy już dla tylko od bardzo może są",
	cs: "a v ne že se na to je jak ale co za po tak byl já ona by už pro jen od velmi může jsou s z do když nebo",
	tr: "ve bir bu için çok da de ama ben o ne var yok gibi daha sonra olarak kadar değil ile mi biz onlar şey her",
	ru: "и в не что на я с он как это по но они мы к у так за бы от же для вы было она её только когда",
	uk: "і в не що на я з він як це по але вони ми до у так за б від же для ви було вона її тільки коли є та",
	ar: "في من على أن هذا التي إلى ما لا هو كان كل مع عن هي قال لم بعد أو ذلك و كنا أنا نحن",
	fa: "و در به از که این را با است برای آن یک خود تا بر هم من ما بود شد می های",
};
const WORDS = Object.entries(SMALL).map(([tag, words]) => [tag, new Set(words.split(" "))] as const);

/** Words of a text that are looked at, and how many a text needs at least. */
const LOOKED_AT = 3000;
const FEWEST = 6;
/** Of all words, those small ones have to make; and how much more than the next language’s. */
const SHARE = 0.15;
const CLEARLY = 1.2;

/** The language of our own words, amid those of others. */
export const ours = () => document.documentElement.lang || "en";

const found = new Map<string, string | undefined>();
const KEPT = 400;

/** The language of a text; nothing where it can’t be told. */
export function languageOf(text: string): string | undefined {
	if (found.has(text)) return found.get(text);
	if (found.size > KEPT) found.clear();
	const told = guessed(text.slice(0, LOOKED_AT * 8));
	found.set(text, told);
	return told;
}

function guessed(text: string): string | undefined {
	const letters = text.match(/\p{L}/gu)?.length ?? 0;
	if (letters < FEWEST) return undefined;
	for (const [tag, script] of SCRIPTS) if ((text.match(script)?.length ?? 0) > letters * (tag === "ja" ? 0.15 : 0.5)) return tag;
	const words = (text.toLowerCase().match(/[\p{L}\p{M}]+/gu) ?? []).slice(0, LOOKED_AT);
	if (words.length < FEWEST) return undefined;
	const counts = WORDS.map(([tag, small]) => ({ tag, count: words.filter((word) => small.has(word)).length }));
	counts.sort((a, b) => b.count - a.count);
	const [first, second] = counts;
	if (!first || first.count < words.length * SHARE || first.count < (second?.count ?? 0) * CLEARLY) return undefined;
	return first.tag;
}
