import type { Recipe, Scope } from '@ritaglio/core';
import * as Comlink from 'comlink';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { create, useStore } from 'zustand';
import { givePictures } from '../worker/givePictures';
import type { Answer, Figures, Reach, Request, Shown, ViewName } from '../worker/protocol';
import { renderer, RendererStopped, whileAlive } from '../worker/renderer';
import { Refused } from '../data/refused';
import { toast } from 'sonner';
import { refuse } from '../ui/refuse';
import { openSubject } from './edit';
import type { OpenJob } from './jobStore';
import { firstLook, handedOn } from '../data/firstLook';
import { momentIn } from './moments';
import { reaches, reachFor } from './reach';
import type { Step } from './steps';
import { useView, type PictureChoice } from './viewStore';
import { draftScale, workingScale } from './workingSide';
import { say } from '../words/say';

/** What is being worked out now. */
interface Progress {
  what: string;
  fraction: number;
  /** Milliseconds since it began. */
  elapsed: number;
}

/** How far what is being worked out is: of its own, so that a tick of it draws nothing but what shows it. */
export const useProgress = create<{ progress?: Progress }>(() => ({}));
const setProgress = (progress: Progress | undefined): void => useProgress.setState({ progress });

/** What has been worked out. */
export interface Products {
  shown: Partial<Record<ViewName, Shown>>;
  figures: Figures;
  /** The subject’s side of the finished picture, and the background’s. */
  scopes: Scope[];
  /** The last answer is the sharp one of the current recipe. */
  settled: boolean;
  /** What is looked at is shown as it is in the current recipe; what is measured of it may still follow. */
  answered: boolean;
  /** Whether something that is shown is of an older recipe: it is being worked out anew, or was stopped. */
  isOld: (what: ViewName | keyof Figures) => boolean;
  /** Work was cancelled by hand. */
  stopped: boolean;
  cancel: () => void;
  resume: () => void;
}

/** So many times it is tried again. */
const most = 2;

/** A cut that is there in less, ms, needs no draft before it. */
const quick = 800;
/** What small prints are made of. */
const printViews: readonly ViewName[] = ['plate', 'background', 'finished'];
/** What is not looked at gets small prints after so long a rest, ms. */
const restBeforePrints = 3000;
/** Somebody draws mark after mark when one follows the answer to another within this, ms: what is beside the cut waits so long then. */
const markAfterMark = 5000;
const restBetweenMarks = 1800;
/** A picture that was replaced may still be on its way to the screen for so long, ms. */
const closeAfter = 4000;

const letGo = (shown: Shown | undefined): void => void (shown && setTimeout(() => shown.bitmap.close(), closeAfter));

/** Whether an answer shows what was asked for first, at the size that was asked for last. */
function isFirst({ first, scales }: Request, answer: Answer): boolean {
  if (answer.kind === 'same') return answer.view === first;
  return answer.kind === 'shown' && answer.shown.view === first && answer.shown.scale === scales[scales.length - 1];
}

type Cut = Pick<Recipe['subjects'][number], 'shot' | 'marks'>;
const cutOf = (recipe: Recipe): Cut => openSubject(recipe, useView.getState().subject);

/** Whether a cut is that of a mark more, or less, soon after another answer of the same shot. */
function followsMark({ shot, marks }: Cut, last: { shot: string; marks: unknown; when: number } | undefined): boolean {
  return last?.shot === shot && last.marks !== marks && performance.now() - last.when < markAfterMark;
}

/** What is to be worked out. */
interface Asked {
  recipe: Recipe;
  /** Something is being dragged: a draft will do. */
  dragging: boolean;
  reach: Reach;
  /** Small prints of what is not looked at. */
  prints?: boolean;
}

function needed(picture: PictureChoice): ViewName {
  return picture === 'shot' ? 'subject' : picture;
}

/**
 * Keeps what is looked at in step with the recipe: a draft while something is dragged, a draft and then the sharp answer
 * once it is let go. A newer change cancels an older one. What the open step does not show is made when it is looked at; after
 * a rest it gets small prints.
 */
export function useProducts(job: OpenJob, step: Step): Products {
  // A photo that was just dropped is there at once.
  const [shown, setShown] = useState<Products['shown']>(() => {
    const look = handedOn(openSubject(job.store.getState().recipe).shot);
    return look ? { shot: { view: 'shot', token: 0, ...look } } : {};
  });
  const handed = useRef(shown.shot !== undefined);
  const [figures, setFigures] = useState<Figures>({});
  const [scopes, setScopes] = useState<Scope[]>([]);
  const [madeOf, setMadeOf] = useState<Partial<Record<ViewName | keyof Figures, Recipe>>>({});
  /** The same, for what runs beside the drawing. */
  const madeNow = useRef(madeOf);
  useEffect(() => {
    madeNow.current = madeOf;
  }, [madeOf]);
  /** How long the sharp answer took last, ms, its draft not counted. */
  const sharpTook = useRef(Infinity);
  /** Which cut was answered last, and when. */
  const cutAnswered = useRef<{ shot: string; marks: unknown; when: number }>(undefined);
  // What is shown when the job is left is let go with it.
  const last = useRef(shown);
  useEffect(() => {
    last.current = shown;
  }, [shown]);
  const isThere = useRef(true);
  useEffect(() => {
    isThere.current = true;
    return () => {
      isThere.current = false;
      // While it is developed every part is taken away and put back once.
      queueMicrotask(() => !isThere.current && Object.values(last.current).forEach(({ bitmap }) => bitmap.close()));
    };
  }, []);
  /** Which products are shown. */
  const tokens = useRef<Request['has']>({});
  const [answeredFor, setAnsweredFor] = useState<Recipe>();
  const [settledFor, setSettledFor] = useState<{ recipe: Recipe; reach: Reach }>();
  const [stoppedFor, setStoppedFor] = useState<Recipe>();
  const whole = useStore(job.store, (s) => s.draft ?? s.recipe);
  const frame = useView((s) => s.frame);
  const followed = useView((s) => s.followed);
  const dragging = useStore(job.store, (s) => s.draft !== undefined);
  const subject = useView((s) => s.subject);
  const recipe = useMemo(() => momentIn(whole, { frame, followed, subject }), [whole, frame, followed, subject]);
  const reach = useView((s) => reachFor(step, s));
  const queue = useRef<{ running?: 'draft' | 'sharp'; next?: Asked; gone: boolean }>({ gone: false });

  /** How many times the renderer has stopped over what is asked for: each time it is tried at half the size. */
  const fallen = useRef(0);
  const run = useCallback(async () => {
    const q = queue.current;
    while (q.next && !q.gone) {
      const { recipe: wanted, dragging: drafting, reach: looked, prints = false } = q.next;
      q.next = undefined;
      q.running = drafting ? 'draft' : 'sharp';
      const scales = [...new Set([draftScale(wanted), workingScale(wanted)])].map((scale) => scale / 2 ** fallen.current);
      const request: Request = {
        recipe: wanted,
        subject: useView.getState().subject,
        first: needed(useView.getState().picture),
        reach: looked,
        has: { ...tokens.current },
        ...(prints && { prints: printViews.filter((view) => madeNow.current[view] !== wanted) }),
        ...(looked === 'cut' && followsMark(cutOf(wanted), cutAnswered.current) && { rest: restBetweenMarks }),
        ...(useView.getState().against === 'skipped' && { also: ['skipped' as const] }),
        scales: drafting || prints ? scales.slice(0, 1) : looked === 'cut' && sharpTook.current < quick ? scales.slice(-1) : scales,
      };
      const began = performance.now();
      let draftShown = request.scales.length > 1 ? Infinity : began;
      try {
        await givePictures(job.store.getState().recipe);
        const working = renderer().answer(
          request,
          Comlink.proxy((answer) => {
            if (q.gone) return;
            if (answer.kind === 'progress') {
              const elapsed = performance.now() - began;
              if (elapsed > 300 && !prints) setProgress({ what: answer.what, fraction: answer.fraction, elapsed });
            } else if (answer.kind === 'same') {
              if (!answer.rough) setMadeOf((old) => ({ ...old, [answer.view]: wanted }));
            } else if (answer.kind === 'figures') setFigures((old) => ({ ...old, ...answer.figures }));
            else if (answer.kind === 'scopes') setScopes(answer.scopes);
            else {
              tokens.current[answer.shown.view] = answer.shown.token;
              setShown((old) => {
                letGo(old[answer.shown.view]);
                return { ...old, [answer.shown.view]: answer.shown };
              });
            }
            if (answer.kind === 'shown' && answer.shown.scale !== request.scales[request.scales.length - 1]) draftShown = performance.now();
            if (!drafting && !prints && isFirst(request, answer)) {
              setAnsweredFor(wanted);
              setProgress(undefined);
              if (looked === 'cut') cutAnswered.current = { ...cutOf(wanted), when: performance.now() };
              if (draftShown !== Infinity && looked === 'cut') sharpTook.current = performance.now() - draftShown;
              draftShown = Infinity;
            }
            const made =
              answer.kind === 'figures'
                ? Object.keys(answer.figures)
                : answer.kind === 'shown' && !answer.shown.rough
                  ? [answer.shown.view]
                  : [];
            if (made.length > 0) setMadeOf((old) => ({ ...old, ...Object.fromEntries(made.map((name) => [name, wanted])) }));
          }),
        );
        const finished = await whileAlive(working);
        fallen.current = 0;
        if (finished && !drafting && !prints) setSettledFor({ recipe: wanted, reach: request.reach });
      } catch (error) {
        if (!(error instanceof RendererStopped)) refuse(error);
        else if (q.gone) return;
        else if (++fallen.current > most) {
          refuse(new Refused(say('What computes has stopped {current} times over this ({message}). The job is kept; undo the last change, or choose a smaller working size (?).', { current: fallen.current, message: error.message }))); // prettier-ignore
          setStoppedFor(wanted);
        } else {
          toast(
            say('What computes has stopped ({message}); it was started again, at a smaller size. Nothing of the job is lost.', {
              message: error.message,
            }),
          );
          q.next ??= { recipe: wanted, dragging: false, reach: looked };
        }
      }
      q.running = undefined;
      setProgress(undefined);
    }
  }, [job]);

  const ask = useCallback(
    (next: Asked) => {
      const q = queue.current;
      q.next = next;
      if (!q.running) void run();
      // A running draft is let finish, so that dragging shows something; a sharp answer is out of date.
      else if (q.running === 'sharp' || !next.dragging) void renderer().cancel();
    },
    [run],
  );

  useEffect(() => {
    const q = queue.current;
    q.gone = false;
    return () => {
      q.gone = true;
      void renderer().cancel();
    };
  }, []);

  const against = useView((s) => s.against);
  const [asked, setAsked] = useState(0);
  useEffect(() => ask({ recipe, dragging, reach }), [recipe, dragging, against, subject, reach, asked, ask]);

  const settled = settledFor?.recipe === recipe && reaches.indexOf(settledFor.reach) >= reaches.indexOf(reach);
  const printed = printViews.every((view) => madeOf[view] === recipe);
  useEffect(() => {
    // What was made of this recipe when it was looked at stays: a print would be smaller.
    if (!settled || printed || dragging) return;
    const timer = setTimeout(() => !queue.current.running && ask({ recipe, dragging: false, reach, prints: true }), restBeforePrints);
    return () => clearTimeout(timer);
  }, [settled, printed, reach, dragging, recipe, ask]);

  const { shot } = openSubject(recipe, subject);
  useEffect(() => {
    let gone = false;
    if (handed.current) {
      handed.current = false;
      return;
    }
    void firstLook(shot).then((look) => {
      if (look && !gone) setShown((old) => (old.shot ? old : { ...old, shot: { view: 'shot', token: 0, ...look } }));
    });
    return () => {
      gone = true;
    };
  }, [shot]);

  const cancel = useCallback(() => {
    queue.current.next = undefined;
    setStoppedFor(recipe);
    void renderer().cancel();
  }, [recipe]);
  // Whoever holds an older one asks for what is there now.
  const resume = useCallback(() => {
    setStoppedFor(undefined);
    setAsked((n) => n + 1);
  }, []);

  const isOld = useCallback((what: ViewName | keyof Figures) => what in madeOf && madeOf[what] !== recipe, [madeOf, recipe]);
  return { shown, figures, scopes, settled, answered: answeredFor === recipe, isOld, stopped: stoppedFor === recipe, cancel, resume };
}
