import { Group, NativeSelect, NumberInput, Slider, Switch, Text } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { useState } from 'react';
import type { Project, Scene, Schemas } from '../core/client';
import { words } from '../messages';
import view from '../parts/view.module.css';
import { usePicture } from '../session/usePicture';
import classes from './Check.module.css';
import { Frame } from './Frame';
import { Pieces } from './Pieces';
import { isEye, type Screen, screens } from './screens';

interface Props {
  project: Project | null;
  scene: Scene | undefined;
  onScene: (scene: string) => void;
  screen: Screen;
  onScreen: (kind: string) => void;
  severity: number;
  onSeverity: (severity: number) => void;
  pixels: Pixels;
  onPixels: (pixels: Pixels) => void;
  /** Device pixels for one CSS px of the screen. */
  density: number;
  finding: Schemas['Finding'] | null;
  tried: boolean;
}

/** Between two pictures, in px. */
const gap = 14;

/** A scene as it is, and as another screen, other eyes or a squinting eye sees it. */
export function Look(props: Props) {
  const { project, scene, screen, finding, pixels, density } = props;
  const [squints, setSquints] = useState(true);
  const [distance, setDistance] = useState(50);
  const { ref, width } = useElementSize();
  const across = squints ? (width - gap) / 2 : width;
  const fitted = scene && width > gap ? Math.min(1, across / scene.width) : 0;
  const scale = pixels === 'fitted' || fitted === 0 ? fitted : ENLARGED;
  const sight = { distance, px_per_inch: 96, degrees: 0.1 };
  const place = finding?.place.scene === scene?.id ? finding?.place : undefined;
  const [left = 0, top = 0, wide = 0, high = 0] = place?.area ?? [];
  const middle = place?.area ? { x: (left + wide / 2) * scale, y: (top + high / 2) * scale } : null;
  const sheet = scene && { width: scene.width * scale, height: scene.height * scale };
  return (
    <section aria-label={words.check.look} className={classes.look}>
      <h2 className={view.heading}>{words.check.look}</h2>
      <Group gap={8}>
        <NativeSelect
          size="xs"
          aria-label={words.common.scene}
          value={scene?.id ?? ''}
          data={(project?.scenes ?? []).map((one) => ({ value: one.id, label: one.name }))}
          onChange={(event) => props.onScene(event.currentTarget.value)}
        />
        <NativeSelect
          size="xs"
          aria-label={words.check.seenOn}
          value={screen.kind}
          data={screens}
          onChange={(event) => props.onScreen(event.currentTarget.value)}
        />
        {isEye(screen.kind) && (
          <Slider
            size="sm"
            w={120}
            label={(value) => `${Math.round(value * 100)} %`}
            thumbLabel={words.check.severity}
            min={0}
            max={1}
            step={0.1}
            value={props.severity}
            onChange={props.onSeverity}
          />
        )}
        <NativeSelect
          size="xs"
          aria-label={words.check.pixels}
          value={pixels}
          data={[
            { value: 'fitted', label: words.check.fitted },
            { value: '1', label: words.check.pixels1 },
            { value: '2', label: words.check.pixels2 },
          ]}
          onChange={(event) => props.onPixels(event.currentTarget.value as Pixels)}
        />
        <Switch
          size="xs"
          label={words.check.squint}
          checked={squints}
          onChange={(event) => setSquints(event.currentTarget.checked)}
        />
        {squints && (
          <NumberInput
            hideControls
            size="xs"
            w={120}
            aria-label={words.check.viewingDistance}
            suffix={words.check.cmAway}
            min={10}
            max={1000}
            step={10}
            value={distance}
            onChange={(value) => typeof value === 'number' && setDistance(value)}
          />
        )}
      </Group>
      <div ref={ref} className={classes.pictures} data-frames>
        {project && scene && sheet && scale > 0 && (
          <>
            <figure className={classes.figure}>
              <Frame label={words.check.sharpPicture} width={across} at={middle}>
                <div className={classes.sheet} style={sheet}>
                  <Seen {...{ project, scale, screen, pixels }} scene={scene.id} sight={null} />
                  {place?.area && <Area area={place.area} scale={scale} />}
                  {place?.marks && !props.tried && <Marks marks={place.marks} {...scene} scale={scale} />}
                </div>
              </Frame>
              <figcaption className={classes.caption}>
                {words.check.seen(props.tried, name(screen))}
                {pixels === 'fitted' ? '' : words.check.pixelsOf(pixels)}
              </figcaption>
            </figure>
            {squints && (
              <figure className={classes.figure}>
                <Frame label={words.check.squintedPicture} width={across} at={middle}>
                  <div className={classes.sheet} style={sheet}>
                    <Seen {...{ project, scale, screen, pixels, sight }} scene={scene.id} />
                  </div>
                </Frame>
                <figcaption className={classes.caption}>
                  {words.check.squinting(distance, name(screen))}
                </figcaption>
              </figure>
            )}
          </>
        )}
      </div>
      {project && scene && <Pieces {...{ project, screen, sight, density }} scene={scene.id} />}
    </section>
  );
}

function name(screen: Screen): string {
  const label = screens.find(({ value }) => value === screen.kind)?.label ?? '';
  return label.charAt(0).toLowerCase() + label.slice(1);
}

/** As large as there is room for, or the very pixels of a screen, enlarged. */
export type Pixels = 'fitted' | '1' | '2';

/** Px of this screen for one px of the scene when pixels are looked at. */
const ENLARGED = 4;

interface SeenProps {
  pixels: Pixels;
  project: Project;
  scene: string;
  scale: number;
  screen: Screen;
  sight: Schemas['ViewingConditions'] | null;
}

function Seen({ project, scene, scale, screen, sight, pixels }: SeenProps) {
  const seen = JSON.stringify({ screen, sight });
  const { canvas, failure } = usePicture({
    project,
    scene,
    scale: pixels === 'fitted' ? Math.min(scale * window.devicePixelRatio, 4) : Number(pixels),
    region: null,
    before: false,
    only: null,
    seen,
  });
  return (
    <>
      <canvas ref={canvas} className={classes.picture} data-pixels={pixels} />
      {failure && (
        <Text size="sm" role="alert" className={classes.failure}>
          {failure}
        </Text>
      )}
    </>
  );
}

function Area({ area: [x, y, w, h], scale }: { area: number[]; scale: number }) {
  const px = (length: number | undefined) => (length ?? 0) * scale;
  return (
    <span
      className={classes.area}
      style={{ left: px(x) - 3, top: px(y) - 3, width: px(w) + 6, height: px(h) + 6 }}
    />
  );
}

/** Where an edge is too faint to be seen. */
function Marks({
  marks,
  width,
  height,
  scale,
}: {
  marks: number[][];
  width: number;
  height: number;
  scale: number;
}) {
  return (
    <svg className={classes.marks} viewBox={`0 0 ${width} ${height}`} aria-hidden="true">
      {marks.map(([x, y]) => (
        <circle key={`${x},${y}`} cx={x} cy={y} r={2 / scale} />
      ))}
    </svg>
  );
}
