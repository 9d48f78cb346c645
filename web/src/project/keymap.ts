import { say } from "../language/say";

/** Where a key does something; the help lists them so. */
export type Where = "text" | "answers" | "line" | "recording" | "span" | "typing" | "region" | "everywhere";

export interface Key {
	where: Where;
	/** As tinykeys writes them; a key that is a single letter or sign may be another by choice. */
	keys: string[];
	/** A letter or sign by itself, which may be turned off or changed (WCAG 2.1.4). While words are chosen letters are typed, so a letter goes with Alt then. */
	single?: "letter" | "sign";
	does: () => string;
}

/** Every key that does something of its own. Enter and Space on buttons, arrows in menus and Esc in dialogs are the browser's and the library's. */
export const KEYMAP = {
	nextWord: { where: "text", keys: ["ArrowRight"], does: () => say("Choose the next word") },
	previousWord: { where: "text", keys: ["ArrowLeft"], does: () => say("Choose the previous word") },
	longer: { where: "text", keys: ["Shift+ArrowRight"], does: () => say("Take one word more") },
	shorter: { where: "text", keys: ["Shift+ArrowLeft"], does: () => say("Take one word less") },
	nextTurn: { where: "text", keys: ["ArrowDown", "Shift+ArrowDown"], does: () => say("Go to the next turn") },
	previousTurn: { where: "text", keys: ["ArrowUp", "Shift+ArrowUp"], does: () => say("Go to the previous turn") },
	wholeTurn: { where: "text", keys: ["t"], single: "letter", does: () => say("Choose the whole turn") },
	nextPassage: { where: "text", keys: ["]"], single: "sign", does: () => say("Go to the next passage") },
	previousPassage: { where: "text", keys: ["["], single: "sign", does: () => say("Go to the previous passage") },
	uncoded: { where: "text", keys: ["u"], single: "letter", does: () => say("Go to the next turn without a code") },
	sameCode: { where: "text", keys: ["c"], single: "letter", does: () => say("Go to the next passage of the same code") },
	sameSpeaker: { where: "text", keys: ["s"], single: "letter", does: () => say("Go to the next turn of the same speaker") },
	endOn: { where: "text", keys: ["Alt+ArrowRight"], does: () => say("Move the end of the passage in hand a word on") },
	endBack: { where: "text", keys: ["Alt+ArrowLeft"], does: () => say("Move the end of the passage in hand a word back") },
	beginningOn: { where: "text", keys: ["Alt+Shift+ArrowRight"], does: () => say("Move its beginning a word on") },
	beginningBack: { where: "text", keys: ["Alt+Shift+ArrowLeft"], does: () => say("Move its beginning a word back") },
	toSentence: { where: "text", keys: ["Alt+ArrowDown"], does: () => say("Widen the passage to its sentence") },
	toTurn: { where: "text", keys: ["Alt+Shift+ArrowDown"], does: () => say("Widen the passage to its turn") },
	leaveWords: { where: "text", keys: ["Escape"], does: () => say("Leave the words") },

	nextAnswer: { where: "answers", keys: ["ArrowDown"], does: () => say("Go to the next answer") },
	previousAnswer: { where: "answers", keys: ["ArrowUp"], does: () => say("Go to the previous answer") },
	answersOn: { where: "answers", keys: ["PageDown"], does: () => say("Go on by eight") },
	answersBack: { where: "answers", keys: ["PageUp"], does: () => say("Go back by eight") },
	firstAnswer: { where: "answers", keys: ["Home"], does: () => say("Go to the first answer") },
	lastAnswer: { where: "answers", keys: ["End"], does: () => say("Go to the last answer") },
	tick: { where: "answers", keys: ["Space"], does: () => say("Tick the answer, or take the tick away") },
	tickOn: { where: "answers", keys: ["Shift+ArrowDown"], does: () => say("Tick on the way down") },
	tickBack: { where: "answers", keys: ["Shift+ArrowUp"], does: () => say("Tick on the way up") },
	tickAll: { where: "answers", keys: ["$mod+a", "Control+a"], does: () => say("Tick all that are shown") },
	untick: { where: "answers", keys: ["Escape"], does: () => say("Take all ticks away") },

	put: { where: "line", keys: ["Enter"], does: () => say("Put the code in hand on") },
	another: { where: "line", keys: ["Tab"], does: () => say("Take this code and choose another") },
	make: { where: "line", keys: ["Shift+Enter"], does: () => say("Make a new code of what is typed") },
	nextCode: { where: "line", keys: ["ArrowDown"], does: () => say("Take the next code of the list in hand") },
	previousCode: { where: "line", keys: ["ArrowUp"], does: () => say("Take the previous code of the list in hand") },
	without: { where: "line", keys: ["Backspace"], does: () => say("In an empty line: leave out the code that was taken last") },
	pinned: { where: "line", keys: ["([1-9])"], does: () => say("Put a pinned code on") },
	again: { where: "line", keys: ["="], single: "sign", does: () => say("The same code as last time") },
	proposed: {
		where: "line",
		keys: ["+"],
		single: "sign",
		does: () => say("Take the codes proposed: for the document or speaker, or of those who gave the same answer"),
	},
	ofWords: { where: "line", keys: ["'"], single: "sign", does: () => say("Make a new code from the words themselves") },
	leaveLine: { where: "line", keys: ["Escape"], does: () => say("Leave the line") },

	play: { where: "recording", keys: ["Alt+p"], does: () => say("Play or pause") },
	back: { where: "recording", keys: ["Alt+b"], does: () => say("Back three seconds") },
	loop: { where: "recording", keys: ["Alt+l"], does: () => say("Loop what is in hand") },
	begin: { where: "recording", keys: ["Alt+i"], does: () => say("A span begins here") },
	finish: { where: "recording", keys: ["Alt+o"], does: () => say("A span ends here") },

	playSpan: { where: "span", keys: ["Enter", "Space"], does: () => say("Take the span in hand, and play it") },
	moveSpan: { where: "span", keys: ["(Arrow.+)"], does: () => say("Move the span") },
	moveSpanFinely: { where: "span", keys: ["Alt+(Arrow.+)"], does: () => say("Move it in small steps") },
	trimSpan: { where: "span", keys: ["Shift+(Arrow.+)"], does: () => say("Move its end alone") },
	trimSpanFinely: { where: "span", keys: ["Alt+Shift+(Arrow.+)"], does: () => say("Move its end in small steps") },

	typedNext: { where: "typing", keys: ["Enter"], does: () => say("Keep the turn, and go to the next") },
	typedDown: { where: "typing", keys: ["Alt+ArrowDown"], does: () => say("Go to the next turn") },
	typedUp: { where: "typing", keys: ["Alt+ArrowUp"], does: () => say("Go to the turn before") },
	replay: { where: "typing", keys: ["Alt+r"], does: () => say("Play the turn from its beginning") },
	slower: { where: "typing", keys: ["Alt+,"], does: () => say("Slower") },
	faster: { where: "typing", keys: ["Alt+."], does: () => say("Faster") },
	speakerOf: { where: "typing", keys: ["Alt+([1-9])"], does: () => say("Give the turn to this speaker of the list") },
	cut: { where: "typing", keys: ["Alt+x"], does: () => say("Cut the turn: its words at the cursor, its sound where it plays") },
	beginsHere: { where: "typing", keys: ["Alt+i"], does: () => say("The turn begins where it plays") },
	endsHere: { where: "typing", keys: ["Alt+o"], does: () => say("The turn ends where it plays") },

	moveRegion: { where: "region", keys: ["(Arrow.+)"], does: () => say("Move the region") },
	moveRegionFinely: { where: "region", keys: ["Alt+(Arrow.+)"], does: () => say("Move it in small steps") },
	resizeRegion: { where: "region", keys: ["Shift+(Arrow.+)"], does: () => say("Resize it") },
	resizeRegionFinely: { where: "region", keys: ["Alt+Shift+(Arrow.+)"], does: () => say("Resize it in small steps") },
	takeRegion: { where: "region", keys: ["Enter", "Space"], does: () => say("Take a region in hand") },
	leaveRegion: { where: "region", keys: ["Escape"], does: () => say("Leave the region drawn") },

	undo: { where: "everywhere", keys: ["$mod+z", "Control+z"], does: () => say("Undo") },
	redo: { where: "everywhere", keys: ["$mod+Shift+z", "$mod+y", "Control+Shift+z", "Control+y"], does: () => say("Redo") },
	find: { where: "everywhere", keys: ["$mod+k", "Control+k"], does: () => say("Find any document, person or code") },
	keepMemo: { where: "everywhere", keys: ["$mod+Enter", "Control+Enter"], does: () => say("Keep the memo that is being written") },
	help: { where: "everywhere", keys: ["?"], single: "sign", does: () => say("Show these keys") },
} as const satisfies Record<string, Key>;

export type KeyName = keyof typeof KEYMAP;

export const KEY_NAMES = Object.keys(KEYMAP) as KeyName[];

export function keyOf(name: KeyName): Key {
	return KEYMAP[name];
}
