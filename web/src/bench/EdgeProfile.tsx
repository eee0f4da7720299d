import { Group, Stack, Switch, Text } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { memo, useMemo, useRef, useState } from 'react';
import type { Coat, Schemas } from '../core/client';
import { words } from '../messages';
import { NumberField } from '../parts/NumberField';
import { Panel } from '../parts/Panel';
import { Quiet } from '../parts/Quiet';
import { useLater } from '../parts/useLater';
import { chosenPiece, openCoat } from '../session/choice';
import { stackOf } from '../session/lookup';
import { useReported } from '../session/reported';
import { useDocument } from '../session/store';
import { useView } from '../session/view';
import classes from './EdgeProfile.module.css';
import { lineOf, ProfileHandle } from './ProfileHandle';
import { takeHold } from './pulling';
import region from './region.module.css';

/** Room for the numbers at the left and below. */
const [LEFT, BELOW] = [34, 20];
/** Px that two labels below the plot are apart at least. */
const APART = 46;
const [TOP, RIGHT] = [8, 8];

/** Darkness across the piece's edge, by coat and in sum, as the core measured it. */
export const EdgeProfile = memo(function EdgeProfile() {
  // Drawing many curves must not delay what follows the hand.
  const report = useReported((told) => told.report);
  const profile = useLater(report?.profile, report?.piece);
  return (
    <section aria-label={words.bench.edgeProfile} className={`${region.region} ${classes.profile}`}>
      <div className={classes.head}>
        <h2 className={region.title}>{words.bench.edgeProfile}</h2>
        {profile && <LineMenu profile={profile} />}
      </div>
      {profile && profile.samples.length > 0 ? (
        <Plot profile={profile} />
      ) : (
        <Text size="sm" c="dimmed">
          {report ? words.bench.noEdgeOfItsOwn : words.bench.chooseAPieceToSee}
        </Text>
      )}
    </section>
  );
});

/** Along which line it is measured. */
const LineMenu = memo(function LineMenu({ profile }: { profile: Schemas['Profile'] }) {
  const { bearing } = profile;
  const [place, setPlace] = useState(4);
  const darkness = profile.samples.find((sample) => sample.at >= place)?.darkness ?? 0;
  const pull = (to: number) => {
    const pulling = takeHold(lineOf(profile));
    pulling?.to(place, to);
    pulling?.end(true);
  };
  const shown = useView((state) => state.lineShown);
  const line = useView((state) => state.line);
  const { x, y, bearing: along } = line ?? { x: 0, y: 0, bearing: Math.round(bearing * 10) / 10 };
  const set = (to: Partial<Schemas['Line']>) => useView.setState({ line: { x, y, bearing: along, ...to } });
  const across = { unit: 'px', min: -10_000, max: 10_000, compact: true } as const;
  return (
    <Panel
      position="top-end"
      width={250}
      target={(toggle) => (
        <Quiet opens fz={12} px={2} onClick={toggle}>
          {line ? words.bench.awayFrom(Math.round(bearing)) : words.bench.alongTheLight}
        </Quiet>
      )}
    >
      <Stack gap={8}>
        <Switch
          size="xs"
          label={words.bench.showMeasuringLine}
          checked={shown}
          onChange={(event) => useView.setState({ lineShown: event.currentTarget.checked })}
        />
        <Group gap={8}>
          <NumberField
            compact
            label={words.bench.lineBearing}
            unit="°"
            value={along}
            min={-3600}
            max={3600}
            onChange={(to) => set({ bearing: ((to % 360) + 360) % 360 })}
          />
          <NumberField
            {...across}
            label={words.bench.lineAcross}
            value={x}
            onChange={(to) => set({ x: to })}
          />
          <NumberField {...across} label={words.bench.lineDown} value={y} onChange={(to) => set({ y: to })} />
        </Group>
        <Group gap={8}>
          <NumberField {...across} label={words.bench.pullAt} value={place} onChange={setPlace} />
          <NumberField
            compact
            label={words.bench.darkness}
            unit="%"
            value={darkness}
            min={-100}
            max={100}
            onChange={pull}
          />
        </Group>
        <Quiet fz={12} px={0} disabled={!line} onClick={() => useView.setState({ line: null })}>
          {words.bench.measureAlongTheLight}
        </Quiet>
      </Stack>
    </Panel>
  );
});

const noCoats: Coat[] = [];

const Plot = memo(function Plot({ profile }: { profile: Schemas['Profile'] }) {
  const stack = useDocument((now) => stackOf(now, chosenPiece(now)));
  const piece = useDocument((now) => now.piece);
  return <Curves profile={profile} coats={useLater(stack, piece) ?? noCoats} />;
});

const Curves = memo(function Curves({ profile, coats }: { profile: Schemas['Profile']; coats: Coat[] }) {
  const opened = useDocument((state) => state.coat);
  const pointed = useView((state) => state.pointed);
  const state = useDocument((now) => now.state);
  const { ref, width, height } = useElementSize();
  const svg = useRef<SVGSVGElement>(null);
  const drawn = useMemo(() => curvesOf(profile, width, height), [profile, width, height]);
  const { values, top, first, last, x, y, bottom } = drawn;
  const named = (id: string) => coats.find((coat) => coat.id === id);
  const shown = profile.coats.find((curve) => curve.coat === (pointed ?? opened));
  const said = named(shown?.coat ?? '');
  return (
    <>
      <Legend name={said?.name} darkness={shown?.darkness} all={values} />
      <div ref={ref} className={classes.plot}>
        <svg ref={svg} width={width} height={height}>
          <title>{words.bench.darkestOfLightnessLightest(Math.max(...values), Math.min(...values))}</title>
          {first < 0 && (
            <rect
              x={LEFT}
              y={TOP}
              width={Math.max(0, x(Math.min(0, last)) - LEFT)}
              height={Math.max(0, bottom - TOP)}
              className={classes.inside}
            />
          )}
          <path d={`M${LEFT} ${y(0)}H${width - RIGHT}`} className={classes.axis} />
          {first <= 0 && last >= 0 && <path d={`M${x(0)} ${TOP}V${bottom}`} className={classes.edge} />}
          <path d={drawn.sum} className={classes.sum} />
          {profile.coats.map((curve, at) => (
            <Curve
              key={curve.coat}
              d={drawn.coats[at]}
              coat={named(curve.coat)}
              on={curve.coat === shown?.coat}
            />
          ))}
          {state === 'rest' && <ProfileHandle profile={profile} curve={drawn.sum} x={x} y={y} svg={svg} />}
          <text x={LEFT - 5} y={y(top) + 8} className={classes.value}>{`${Math.round(top)} %`}</text>
          <text x={LEFT - 5} y={y(0) + 4} className={classes.value}>
            {0}
          </text>
          {[-40, 0, 50, 100]
            .filter((at) => first <= at && at <= last)
            .filter((at, i, all) => at === 0 || x(all[i + 1] ?? Number.POSITIVE_INFINITY) - x(at) >= APART)
            .map((at) => (
              <text key={at} x={x(at)} y={bottom + 14} className={classes.place}>
                {at === 0 ? words.bench.edge : at < 0 ? words.bench.inside : words.bench.px(at)}
              </text>
            ))}
        </svg>
      </div>
    </>
  );
});

interface LegendProps {
  /** The coat that is pointed at or open. */
  name: string | undefined;
  darkness: number[] | undefined;
  all: number[];
}

/** Which line is which, above them: where they lie depends on the coats. */
function Legend({ name, darkness, all }: LegendProps) {
  return (
    <ul className={classes.legend}>
      {name && darkness && (
        <li data-on title={extreme(darkness)}>
          {name}
        </li>
      )}
      <li title={extreme(all)}>{words.bench.allCoats}</li>
    </ul>
  );
}

/** The curves as path data in a plot of this size, and where its places and values lie. */
function curvesOf({ samples, coats }: Schemas['Profile'], width: number, height: number) {
  const bottom = height - BELOW;
  const values = samples.map((sample) => sample.darkness);
  const all = [...values, ...coats.flatMap((coat) => coat.darkness)];
  const [top, low] = [Math.max(5, ...all), Math.min(0, ...all)];
  const [first, last] = [samples[0]?.at ?? 0, samples.at(-1)?.at ?? 1];
  const x = (at: number) => LEFT + ((at - first) / Math.max(1, last - first)) * (width - LEFT - RIGHT);
  const y = (darkness: number) => TOP + ((top - darkness) / (top - low)) * (bottom - TOP);
  const path = (darkness: number[]) =>
    darkness.map((value, i) => `${i === 0 ? 'M' : 'L'}${x(samples[i]?.at ?? 0)} ${y(value)}`).join('');
  const paths = coats.map((coat) => path(coat.darkness));
  return { values, top, first, last, x, y, bottom, sum: path(values), coats: paths };
}

/** One coat's curve: pointing at it shows the coat alone on the stage, a click opens it. */
const Curve = memo(function Curve({ d, coat, on }: { d?: string; coat: Coat | undefined; on: boolean }) {
  if (!coat) return null;
  return (
    <>
      <path d={d} className={classes.coat} data-on={on || undefined} />
      {/* biome-ignore lint/a11y/noStaticElementInteractions: from the keyboard a coat is shown and opened in its row */}
      <path
        d={d}
        className={classes.hit}
        onPointerEnter={() => useView.setState({ pointed: coat.id })}
        onPointerLeave={() => useView.setState({ pointed: null })}
        onClick={() => openCoat(coat.id)}
      >
        <title>{coat.name}</title>
      </path>
    </>
  );
});

/** The farthest a curve goes from 0. */
function extreme(darkness: number[]): string {
  const most = darkness.reduce((far, value) => (Math.abs(value) > Math.abs(far) ? value : far), 0);
  if (most === 0) return words.bench.changesNothingAlongThisLine;
  return words.bench.atMost(Math.abs(Math.round(most * 10) / 10), most > 0);
}
