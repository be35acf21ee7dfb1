import { useEffect } from 'react';
import { Group, Label, Layer, Line, Rect, Stage, Tag, Text } from 'react-konva';
import { editSubject } from '../edit';
import { useChange, useOpenSubject, useRecipe } from '../jobContext';
import { refuse } from '../../ui/refuse';
import { movedAnchor } from '../matte/pointing';
import { movedMark } from '../matte/tools';
import { useDrawing } from '../matte/useDrawing';
import { about, type Step } from '../steps';
import { isOnFrame } from '../moments';
import { useView, type Look, type PictureChoice } from '../viewStore';
import { BenchShapes } from './BenchShapes';
import { FingerLoupe } from './FingerLoupe';
import { GarbageShapes } from './GarbageShapes';
import { MatchShapes } from './MatchShapes';
import { MarkShapes, PickedOut, type MarkHold } from './MarkShapes';
import { PlateShapes } from './PlateShapes';
import { ProductImage, VeilImage } from './ProductImage';
import { roomOf } from './room';
import { DrawingShape, TipShape } from './ToolShapes';
import { useBenchPointer } from './useBenchPointer';
import { usePicturePointer } from './usePicturePointer';
import { say, spoken, word } from '../../words/say';

const words: Record<PictureChoice | 'skipped' | 'take' | 'held', string> = spoken({
  take: word('Take'),
  held: word('Before'),
  shot: word('Shot'),
  matte: word('Matte'),
  plate: word('Plate'),
  background: word('Behind'),
  finished: word('Finished'),
  skipped: word('Without the plate'),
  distances: word('Distances'),
});

/** The picture itself: products, comparison, marks, pan and zoom. Coordinates inside the frame are full-size pixels. */
export function PictureStage({ step, width, height }: { step: Step; width: number; height: number }) {
  const recipe = useRecipe();
  const subject = useOpenSubject();
  const frame = roomOf(recipe, step, subject);
  const { commit } = useChange();
  const view = useView();
  const beside = view.compare === 'beside';
  const paneWidth = beside ? width / 2 : width;
  const fit = 0.965 * Math.min(paneWidth / frame.width, height / frame.height);
  const { set, fitZoom } = view;
  useEffect(() => {
    if (fit !== fitZoom) set({ fitZoom: fit });
  }, [fit, fitZoom, set]);
  const look: Look = view.look ?? { zoom: fit, x: frame.width / 2, y: frame.height / 2 };
  // Marks belong on the shot; the hand paints on the matte as well.
  const onMatte =
    step === 'matte' && view.compare === 'whole' && (view.picture === 'shot' || (view.picture === 'matte' && view.tool === 'hand'));
  const onPlate = step === 'plate' && view.compare === 'whole' && view.picture === 'plate';
  const onBench = (step === 'stage' || step === 'lens' || step === 'match') && view.compare === 'whole';
  const bench = useBenchPointer(onBench);
  const working = onMatte || (onPlate && view.plateTool !== 'look');
  const changing = onMatte && view.tool === 'mark' && view.way === 'change';
  const marking = working && !changing;
  const { drawing, ...draw } = useDrawing(working, step);
  const { pointer, panning, pinch, finger, space, byKeys, onStage, onPane } = usePicturePointer({
    step,
    size: { width, height },
    fit,
    look,
    paneWidth,
    marking,
    draw,
    drawing,
    bench,
  });

  const hold: MarkHold = {
    chosen: view.chosen,
    choose: (chosen) => set({ chosen }),
    move: (index, dx, dy) =>
      commit((r) =>
        editSubject(r, (s) => ({
          ...s,
          marks: s.marks.map((m, i) => (i === index ? (movedMark(m, dx, dy) as typeof m) : m)),
        })),
      ),
    moveAnchor: (index, anchor, to) => {
      const mark = subject.marks[index];
      movedAnchor(recipe, mark, anchor, to).then(
        (moved) => commit((r) => editSubject(r, (s) => ({ ...s, marks: s.marks.map((m) => (m === mark ? (moved as typeof m) : m)) }))),
        refuse,
      );
    },
  };

  const inFrame = { x: paneWidth / 2 - look.x * look.zoom, y: height / 2 - look.y * look.zoom, scaleX: look.zoom, scaleY: look.zoom };
  const shown: PictureChoice | 'held' = view.held?.bitmap ? 'held' : view.before ? 'shot' : view.picture;
  const plain = view.before || step !== 'matte';
  const wipeAt = view.wipe * frame.width;
  const against = view.against === 'take' && view.take ? view.take.name : words[view.against];
  const cursor = panning ? 'grabbing' : bench.active && !space ? 'crosshair' : space || !marking ? 'grab' : 'none';

  return (
    <div
      style={{ cursor, touchAction: 'none' }}
      data-testid="picture"
      data-anchors={drawing?.anchors?.length}
      aria-label={`${words[shown]}, ${about[step].name}`}
      aria-description={say('Arrow keys move the tip, with Shift finely. Space begins and ends a stroke, Escape drops it.')}
      role="application"
      tabIndex={0}
      className="outline-offset-[-3px]"
      data-by-keys={byKeys ? '' : undefined}
      {...onPane}
    >
      <Stage width={width} height={height} {...onStage}>
        <Layer listening={false}>
          <Group clipX={0} clipY={0} clipWidth={paneWidth} clipHeight={height}>
            <Group {...inFrame}>
              {view.compare === 'whole' || view.before || view.held ? (
                <ProductImage picture={shown} plain={plain} zoom={look.zoom} step={step} />
              ) : view.compare === 'wipe' ? (
                <>
                  <Group clipX={0} clipY={0} clipWidth={wipeAt} clipHeight={frame.height}>
                    <ProductImage picture={view.against} plain zoom={look.zoom} step={step} />
                  </Group>
                  <Group clipX={wipeAt} clipY={0} clipWidth={frame.width - wipeAt} clipHeight={frame.height}>
                    <ProductImage picture={shown} plain={plain} zoom={look.zoom} step={step} />
                  </Group>
                </>
              ) : (
                <ProductImage picture={view.against} plain zoom={look.zoom} step={step} />
              )}
            </Group>
          </Group>
          {beside && !view.before && (
            <Group x={paneWidth} clipX={0} clipY={0} clipWidth={paneWidth} clipHeight={height}>
              <Group {...inFrame}>
                <ProductImage picture={shown} plain={plain} zoom={look.zoom} step={step} />
              </Group>
            </Group>
          )}
          {beside && !view.before && (
            <>
              <Named x={8} text={against} />
              <Named x={paneWidth + 8} text={words[shown]} />
            </>
          )}
        </Layer>
        {(onMatte || onPlate) && !view.before && (
          <Layer>
            <Group {...inFrame}>
              {onMatte && view.band && <VeilImage name="band" step={step} />}
              {onPlate && view.showing && <VeilImage name="showing" smooth step={step} />}
              {onPlate && view.left && <VeilImage name="left" smooth step={step} />}
              {onMatte && view.picture === 'shot' && (
                <MarkShapes
                  marks={subject.marks}
                  zoom={look.zoom}
                  hold={changing ? hold : undefined}
                  shown={(m) => isOnFrame(recipe, subject.shot, m, view.frame)}
                />
              )}
              {onMatte && view.proposals?.of === 'gaps' && <PickedOut mark={view.proposals.list[view.proposals.at][0]} zoom={look.zoom} />}
              {onMatte && <GarbageShapes zoom={look.zoom} held={view.tool === 'garbage'} />}
              {onPlate && <PlateShapes zoom={look.zoom} />}
              {drawing && <DrawingShape drawing={drawing} zoom={look.zoom} step={step} />}
            </Group>
            {marking && pointer && !space && !panning && !pinch && <TipShape {...pointer} zoom={look.zoom} step={step} />}
          </Layer>
        )}
        {finger && drawing && pointer && !pinch && (
          <Layer listening={false}>
            <FingerLoupe
              {...pointer}
              width={width}
              inside={
                <Group {...inFrame}>
                  <ProductImage picture={shown} plain={plain} zoom={look.zoom} step={step} />
                  <DrawingShape drawing={drawing} zoom={look.zoom} step={step} />
                </Group>
              }
            />
          </Layer>
        )}
        {onBench && !view.before && (
          <Layer>
            <Group {...inFrame}>
              {step === 'match' && view.beyond && !view.held && <VeilImage name="beyond" step={step} />}
              {step === 'match' ? (
                <MatchShapes zoom={look.zoom} drawing={bench.drawing} />
              ) : (
                <BenchShapes zoom={look.zoom} step={step} drawing={bench.drawing} />
              )}
            </Group>
          </Layer>
        )}
        {byKeys && (
          <Layer listening={false}>
            {[5, 2].map((strokeWidth) => (
              <Group key={strokeWidth} x={byKeys.x} y={byKeys.y}>
                <Line points={[-12, 0, 12, 0]} stroke={strokeWidth > 2 ? '#f3f2ee' : '#20211f'} strokeWidth={strokeWidth} />
                <Line points={[0, -12, 0, 12]} stroke={strokeWidth > 2 ? '#f3f2ee' : '#20211f'} strokeWidth={strokeWidth} />
              </Group>
            ))}
          </Layer>
        )}
        {view.compare === 'wipe' && !view.before && (
          <Layer>
            <WipeHandle
              x={inFrame.x + wipeAt * look.zoom}
              height={height}
              label={words[shown]}
              against={against}
              onMove={(x) => set({ wipe: Math.min(1, Math.max(0, (x - inFrame.x) / look.zoom / frame.width)) })}
            />
          </Layer>
        )}
      </Stage>
    </div>
  );
}

function WipeHandle({
  x,
  height,
  label,
  against,
  onMove,
}: {
  x: number;
  height: number;
  label: string;
  against: string;
  onMove: (x: number) => void;
}) {
  return (
    <Group x={x} draggable dragBoundFunc={(p) => ({ x: p.x, y: 0 })} onDragMove={(e) => onMove(e.target.x())}>
      <Line name="handle" points={[0, 0, 0, height]} stroke="#20211f" strokeWidth={3} hitStrokeWidth={18} />
      <Line name="handle" points={[0, 0, 0, height]} stroke="#ffffff" strokeWidth={1} listening={false} />
      <Rect name="handle" x={-5} y={height / 2 - 16} width={10} height={32} fill="#f3f2ee" stroke="#20211f" />
      <Named x={-8} text={against} before />
      <Named x={8} text={label} />
    </Group>
  );
}

/** A picture's name on card stock, at the top; before a place it ends there. */
function Named({ x, text, before = false }: { x: number; text: string; before?: boolean }) {
  const width = 7.3 * text.length + 10;
  return (
    <Label x={before ? x - width : x} y={12} listening={false}>
      <Tag fill="#f3f2ee" />
      <Text
        text={text}
        width={width}
        align="center"
        fontFamily="Schibsted Grotesk Variable"
        fontStyle="600"
        fontSize={13}
        padding={4}
        wrap="none"
        fill="#20211f"
      />
    </Label>
  );
}
