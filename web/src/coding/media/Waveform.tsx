import { Minus, Plus } from "lucide-react";
import { type ReactNode, type RefObject, useEffect, useRef, useState } from "react";
import type WaveSurfer from "wavesurfer.js";
import { say } from "../../language/say";
import { useMayCode, useToldJob } from "../../project/project";
import { Button } from "../../ui/Button";
import { useStable } from "../../ui/stable";
import { type Theme, useTheme } from "../../ui/theme";
import type { DeskDocument, Span } from "../data";
import { useListen, usePeaks, useSound } from "./sound";

const HEIGHT = 52;
/** Points that no browser draws beyond; points a second that are close enough; points of a window, about. */
const MOST = 8_000_000;
const CLOSE = 400;
const WINDOW = 900;

interface Props {
	document: DeskDocument;
	player: RefObject<HTMLMediaElement | null>;
	length: number;
	onSeek: (to: number) => void;
	/** What runs along beneath, drawn for the part of the recording that is seen. */
	children: (view: Span) => ReactNode;
}

/** How loud the recording is along its time, as much of it as the zoom lets be seen; a click goes there. */
export function Waveform({ document, player, length, onSeek, children }: Props) {
	const sound = useSound(document);
	const peaks = usePeaks(document, sound?.ready === true);
	if (sound && !sound.ready) return <NotHeard document={document} />;
	if (!peaks?.length) return null;
	return (
		<Drawn
			key={document.id}
			peaks={peaks}
			seconds={length || (sound?.seconds ?? 0)}
			player={player}
			onSeek={onSeek}
			warnings={sound?.warnings ?? []}
		>
			{children}
		</Drawn>
	);
}

function Drawn({
	peaks,
	seconds,
	player,
	onSeek,
	warnings,
	children,
}: {
	peaks: Float32Array;
	seconds: number;
	player: RefObject<HTMLMediaElement | null>;
	onSeek: (to: number) => void;
	warnings: string[];
	children: (view: Span) => ReactNode;
}) {
	const [zoom, setZoom] = useState(0);
	const [view, setView] = useState<Span>({ begin: 0, finish: seconds });
	const container = useWave(peaks, seconds, player, zoom, onSeek, setView);
	// Each step is twice as close as the one before; the first has all of it in the window.
	const closest = Math.max(1, Math.floor(Math.log2(Math.min(MOST, CLOSE * seconds) / WINDOW)));
	const to = (by: number) => setZoom(Math.min(closest, Math.max(0, zoom + by)));
	return (
		<div className="mt-1 flex gap-2 [--lane-names:6.5rem]">
			<div className="min-w-0 flex-1">
				{/* The slider above says all of this, and takes the keys. */}
				<div ref={container} aria-hidden="true" className="ml-(--lane-names) rounded-md bg-paper" style={{ height: HEIGHT }} />
				{children(view)}
				{warnings.map((warning) => (
					<p key={warning} className="text-[12.6px] text-apricot-ink">
						{warning}
					</p>
				))}
			</div>
			<fieldset className="flex flex-col gap-0.5">
				<legend className="sr-only">{say("Zoom of the waveform")}</legend>
				<Zoom name={say("Closer")} disabled={zoom >= closest} onClick={() => to(1)}>
					<Plus size={13} />
				</Zoom>
				<Zoom name={say("Further away")} disabled={zoom === 0} onClick={() => to(-1)}>
					<Minus size={13} />
				</Zoom>
			</fieldset>
		</div>
	);
}

function Zoom({ name, disabled, onClick, children }: { name: string; disabled: boolean; onClick: () => void; children: ReactNode }) {
	return (
		<button
			type="button"
			aria-label={name}
			title={name}
			disabled={disabled}
			onClick={onClick}
			className="grid size-6 place-items-center rounded-md border border-line text-spruce disabled:opacity-35"
		>
			{children}
		</button>
	);
}

/** The library that draws it, loaded when a recording is first looked at; the sound itself stays the player’s. */
function useWave(
	peaks: Float32Array,
	seconds: number,
	player: RefObject<HTMLMediaElement | null>,
	zoom: number,
	onSeek: (to: number) => void,
	onView: (view: Span) => void,
) {
	const container = useRef<HTMLDivElement>(null);
	const wave = useRef<WaveSurfer | null>(null);
	const seek = useStable(onSeek);
	const look = useStable(onView);
	const theme = useTheme();
	useEffect(() => {
		let gone = false;
		void import("wavesurfer.js").then(({ default: Wave }) => {
			if (gone || !container.current || !player.current) return;
			const colour = inkOf(container.current, theme);
			const made = Wave.create({
				container: container.current,
				media: player.current,
				peaks: [peaks],
				duration: seconds,
				height: HEIGHT,
				waveColor: colour("quiet"),
				progressColor: colour("spruce"),
				cursorColor: colour("apricot"),
				cursorWidth: 2,
				normalize: true,
				autoCenter: false,
			});
			wave.current = made;
			made.on("interaction", seek);
			made.on("scroll", (begin, finish) => look({ begin, finish }));
			made.on("redraw", () => look(seen(made, seconds)));
		});
		return () => {
			gone = true;
			wave.current?.destroy();
			wave.current = null;
		};
		// What is drawn keeps its colours: by another theme it is drawn anew.
	}, [peaks, seconds, player, seek, look, theme]);
	useEffect(() => {
		const whole = container.current?.clientWidth || WINDOW;
		wave.current?.zoom(zoom === 0 ? 0 : (whole / Math.max(seconds, 1)) * 2 ** zoom);
	}, [zoom, seconds]);
	return container;
}

/** A colour of the tokens as a canvas takes it: computed, for the theme that is worn. */
function inkOf(element: HTMLElement, theme: Theme): (name: string) => string {
	return (name) => {
		element.dataset.worn = theme;
		element.style.color = `var(--color-${name})`;
		return getComputedStyle(element).color;
	};
}

/** The part of the recording that is seen. */
function seen(wave: WaveSurfer, seconds: number): Span {
	const wrapper = wave.getWrapper();
	const whole = wrapper.clientWidth;
	if (!whole) return { begin: 0, finish: seconds };
	const begin = (wave.getScroll() / whole) * seconds;
	return { begin, finish: Math.min(seconds, begin + (wave.getWidth() / whole) * seconds) };
}

/** Nobody has listened to the recording on this machine: it came in before Cohortia did so, or from a copy. */
function NotHeard({ document }: { document: DeskDocument }) {
	const mayCode = useMayCode();
	const listen = useListen(document);
	const [job, follow] = useToldJob();
	if (!mayCode) return null;
	return (
		<p className="flex items-center gap-3 text-[12.6px] text-quiet" role="status">
			{job ? say("Listening: {done} %", { done: job.done }) : say("The waveform of this recording isn’t drawn yet.")}
			{!job && (
				<Button look="plain" disabled={listen.isPending} onClick={() => listen.mutate(undefined, { onSuccess: follow })}>
					{say("Draw it, and find where somebody speaks")}
				</Button>
			)}
		</p>
	);
}
