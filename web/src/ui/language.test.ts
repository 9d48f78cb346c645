import { expect, it } from "vitest";
import { languageOf } from "./language";

/** Invented sentences, as people say them. */
const SAID: Record<string, string> = {
	en: "The boat was late again and we had to wait on the quay, but nobody told us what it was that they had been waiting for.",
	de: "Das Boot ist zu spät und wir haben auf dem Steg gewartet, aber man hat uns nicht gesagt, wie es dann mit der Fähre ist.",
	fr: "Le bateau était en retard et nous avons attendu sur le quai, mais il ne nous a pas dit que ce n’est plus pour les gens d’ici.",
	es: "El barco llegó tarde y la gente esperaba en el muelle, pero no se lo dijo nadie y yo también había venido con los niños.",
	pt: "O barco chegou tarde e a gente esperava no cais, mas não foi dito a ninguém e eu também tinha vindo com os miúdos.",
	it: "Il traghetto era in ritardo e la gente aspettava, ma non lo ha detto nessuno e io sono venuta anche per i bambini di lei.",
	nl: "De boot was te laat en we hebben op de kade gewacht, maar het is niet aan ons verteld en ik heb er ook nog een kind bij.",
	sv: "Båten är sen och vi har väntat på kajen, men det var inte någon som sade till oss om att den också är full när man kommer.",
	nb: "Båten er sen og vi har ventet av og til på kaia, men det var ikke noen som sa hva som hadde skjedd etter at den ble full nå.",
	fi: "Lautta oli myöhässä ja me odotimme, mutta ei se haittaa kun he ovat siellä ja minä myös, niin että se on vain näin.",
	pl: "Prom się spóźnił i nie było wiadomo, co to jest, ale tak już jest na wyspie, że nie ma jak do domu wrócić po pracy.",
	tr: "Vapur çok geç kaldı ama bu bizim için değil, o gün bir şey yok gibi ve ben daha sonra da onlar ile gittim.",
	ru: "Паром опоздал, и мы ждали на пристани, но они не сказали, что это так и для нас, когда я была там с детьми.",
	ar: "كان القارب متأخرا و كنا في الميناء من الصباح و لم يكن هذا ما قال لنا كل من كان هو على القارب مع الناس",
	el: "Το πλοίο άργησε και περιμέναμε στην προβλήτα.",
	he: "המעבורת איחרה וחיכינו על המזח.",
	ja: "フェリーが遅れて、桟橋で待ちました。",
	zh: "渡轮晚点了，我们在码头等了很久。",
	ko: "배가 늦어서 부두에서 기다렸어요.",
};

it.each(Object.entries(SAID))("tells %s", (tag, said) => {
	expect(languageOf(said)).toBe(tag);
});

it("says nothing of what is too short, of names and numbers, and of what might be two", () => {
	for (const said of ["", "Yes.", "P07", "6.40, 7.30, 9.00", "Maren Holm Norrby Ytter Skerrow Ostrand Aske"])
		expect(languageOf(said)).toBeUndefined();
	expect(languageOf("Og det er som det er, men vi har det til og med på den")).toBeUndefined();
});
