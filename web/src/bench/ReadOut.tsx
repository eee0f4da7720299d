import { Button, Group, Menu, NativeSelect, SegmentedControl, Text, UnstyledButton } from '@mantine/core';
import { memo } from 'react';
import type { Report, Schemas } from '../core/client';
import { words } from '../messages';
import { Code } from '../parts/Code';
import { CopyButton } from '../parts/CopyButton';
import { options } from '../parts/options';
import { Panel } from '../parts/Panel';
import { Quiet } from '../parts/Quiet';
import { steady } from '../parts/steady';
import { useLater } from '../parts/useLater';
import { useSame } from '../parts/useSame';
import { useDrawing, useFaithful } from '../session/asking';
import { useReported } from '../session/reported';
import { useView } from '../session/view';
import { type CssForm, type Form, formOf, type SvgForm, setForms, useForms } from './forms';
import classes from './ReadOut.module.css';
import region from './region.module.css';

const none: Schemas['Target'][] = [];

const tabForms: { value: Form; label: string; copies: string }[] = [
  { value: 'css', label: words.common.css, copies: words.common.css },
  { value: 'page', label: words.bench.html, copies: words.bench.htmlLower },
  { value: 'values', label: words.bench.values, copies: words.bench.valuesLower },
  { value: 'svg', label: words.bench.svg, copies: words.bench.svg },
];

/** The chosen piece as code or plain values, live, with what differs and by how much. */
export const ReadOut = memo(function ReadOut() {
  const { report, fresh, failure } = useReported();
  const forms = useForms();
  const { cssForm, svgForm, whole } = forms;
  const code = report?.code;
  const targets = useSame(code?.targets ?? none);
  const closer = useCloserAsSvg(report);
  const shown = formOf(forms, report?.piece, closer !== null);
  const drawn = useDrawing(shown === 'svg');
  // The one before stays until the next is there; of another piece it is not shown.
  const drawing = drawn && drawn.of === report?.piece ? drawn.drawing : null;
  const text = (code && textOf(code, drawing, shown, forms)) ?? '';
  // Colouring long code must not delay what follows the hand.
  const read = useLater(
    text || (shown === 'svg' && !drawing ? words.bench.writingSvg : words.bench.noCoatsNothingToWrite),
    [report?.piece, shown, cssForm, svgForm, whole].join(),
  );
  return (
    <section aria-label={words.bench.readOut} className={`${region.region} ${classes.readout}`}>
      <div className={classes.head}>
        <Tabs shown={shown} onShow={(shown) => setForms({ shown }, report?.piece)} />
        <span className={classes.gap} />
        {code && shown === 'svg' && (
          <As value={svgForm} forms={words.bench.svgForms} onChange={(svgForm) => setForms({ svgForm })} />
        )}
        {code && shown === 'css' && (
          <Target
            target={code.target}
            targets={targets}
            form={cssForm}
            onForm={(cssForm) => setForms({ cssForm })}
          />
        )}
        {code && shown === 'page' && targets.length > 1 && <Target target={code.target} targets={targets} />}
        {report && (
          <CopyButton
            main
            text={text}
            fresh={fresh && (shown !== 'svg' || drawing !== null)}
            what={tabForms.find((form) => form.value === shown)?.copies ?? ''}
          />
        )}
      </div>
      {failure && (
        <Text size="sm" role="alert">
          {failure} {report && words.bench.beforeTheLastChange}
        </Text>
      )}
      {report && shown === 'values' && <Conventions />}
      {report ? (
        <>
          <Code text={read} language={languageOf(shown, cssForm, svgForm)} />
          <div className={classes.foot}>
            {canUnfold(report.code, shown, cssForm) && <Unfold whole={whole} />}
            {shown === 'svg' ? (
              <SvgExactness drawing={drawing} isCloser={closer !== null} />
            ) : (
              <Exactness report={report} />
            )}
          </div>
        </>
      ) : (
        <Text size="sm" c="dimmed">
          {words.bench.chooseAPieceToRead}
        </Text>
      )}
    </section>
  );
});

const Tabs = steady(function Tabs({ shown, onShow }: { shown: Form; onShow: (form: Form) => void }) {
  return (
    <SegmentedControl
      size="xs"
      withItemsBorders={false}
      classNames={tabs}
      aria-label={words.bench.showAs}
      value={shown}
      onChange={(chosen) => onShow(chosen as Form)}
      data={tabForms}
    />
  );
});

function textOf(
  code: Report['code'],
  drawing: Schemas['DrawingAnswer'] | null,
  shown: Form,
  { cssForm, svgForm, whole }: { cssForm: CssForm; svgForm: SvgForm; whole: boolean },
): string | undefined {
  if (shown === 'svg') return drawing?.[svgForm];
  if (!whole && canUnfold(code, shown, cssForm)) return code.depth[foldable[cssForm] ?? 'css'];
  if (shown === 'css' && cssForm !== 'rule') return code.copies[cssForm];
  return code[shown];
}

/** The forms of CSS that have more than depth, by what they are called without the rest. */
const foldable: Partial<Record<CssForm, keyof Schemas['DepthAlone']>> = {
  rule: 'css',
  declarations: 'declarations',
  react: 'react',
};

/** Whether there is depth, and something that is none and can be left out. */
function canUnfold({ depth }: Report['code'], shown: Form, cssForm: CssForm): boolean {
  return shown === 'css' && depth.css !== '' && foldable[cssForm] !== undefined;
}

/** Shows the size and the fill too, or what is depth alone. */
const Unfold = memo(function Unfold({ whole }: { whole: boolean }) {
  return (
    <Quiet px={0} fz={12} aria-pressed={whole} onClick={() => setForms({ whole: !whole })}>
      {whole ? words.bench.depthOnly : words.bench.withSizeAndFill}
    </Quiet>
  );
});

function languageOf(shown: Form, cssForm: CssForm, svgForm: SvgForm): 'css' | 'xml' | null {
  if (shown === 'values') return null;
  if (shown === 'css') return cssForm === 'utilities' ? null : 'css';
  return shown === 'svg' && svgForm === 'background' ? 'css' : 'xml';
}

/** In which form an SVG is shown and copied. */
function As<V extends string>(props: { value: V; forms: Record<V, string>; onChange: (value: V) => void }) {
  const called = props.forms[props.value];
  return (
    <Menu position="top-end">
      <Menu.Target>
        <Quiet opens fz={12} aria-label={`${words.bench.copyAs}: ${called}`}>
          {called}
        </Quiet>
      </Menu.Target>
      <Menu.Dropdown>
        <Forms {...props} />
      </Menu.Dropdown>
    </Menu>
  );
}

function Forms<V extends string>({
  value,
  forms,
  onChange,
}: {
  value: V;
  forms: Record<V, string>;
  onChange: (value: V) => void;
}) {
  return options(forms).map((form) => (
    <Menu.Item
      key={form.value}
      fw={form.value === value ? 600 : undefined}
      onClick={() => onChange(form.value)}
    >
      {form.label}
    </Menu.Item>
  ));
}

const tabs = { root: classes.tabs, indicator: classes.marker, label: classes.tab };

/** What the CSS uses, and in which form it is shown and copied. */
const Target = steady(function Target({
  target,
  targets,
  form = 'rule',
  onForm,
}: Pick<Report['code'], 'target' | 'targets'> & {
  form?: CssForm;
  onForm?: (form: CssForm) => void;
}) {
  return (
    <Menu position="top-end">
      <Menu.Target>
        <Quiet opens fz={12} aria-label={`${words.bench.cssProperty}: ${words.common.targets[target]}`}>
          {form === 'rule' ? words.common.targets[target] : words.bench.cssForms[form]}
        </Quiet>
      </Menu.Target>
      <Menu.Dropdown>
        {targets.map((other) => (
          <Menu.Item
            key={other}
            fw={other === target ? 600 : undefined}
            onClick={() => useView.setState({ target: other })}
          >
            {words.common.targets[other]}
          </Menu.Item>
        ))}
        {onForm && (
          <>
            <Menu.Label>{words.bench.copyAs}</Menu.Label>
            <Forms value={form} forms={words.bench.cssForms} onChange={onForm} />
          </>
        )}
      </Menu.Dropdown>
    </Menu>
  );
});

/** How close the piece comes as an SVG file, where that is clearly closer than its CSS. */
function useCloserAsSvg(report: Report | null): Schemas['SvgFaithfulness'] | null {
  const told = useFaithful(report?.code.target ?? null);
  return (told?.of === report?.piece && told?.answer.closer_as_svg) || null;
}

/** How far a browser's picture of the code is from what was designed. */
const Exactness = memo(function Exactness({ report }: { report: Report }) {
  const found = useFaithful(report.code.target)?.answer.targets[0];
  return <Sentence found={found ?? null} notes={[...report.code.differences, ...report.notes]} />;
});

/** The same for the piece as an SVG file. */
function SvgExactness({ drawing, isCloser }: SvgExactnessProps) {
  const found = drawing?.faithfulness ?? null;
  const first = isCloser ? words.bench.closerThanCss : undefined;
  return <Sentence first={first} found={found} notes={found?.notes ?? []} />;
}

interface SvgExactnessProps {
  drawing: Schemas['DrawingAnswer'] | null;
  /** Whether it is clearly closer to the design than the CSS. */
  isCloser: boolean;
}

/** A sentence on what differs and by how much, which opens to the details. */
function Sentence({
  first,
  found,
  notes,
}: {
  first?: string;
  found: Pick<Schemas['SvgFaithfulness'], 'mean' | 'worst' | 'worst_at' | 'coats'> | null;
  notes: { message: string }[];
}) {
  const sentence = [
    first,
    notes.length > 0 && words.bench.differences(notes.length),
    found
      ? words.bench.browserOff(found.mean.toFixed(1), found.worst, found.worst_at ?? null)
      : words.bench.comparing,
  ];
  return (
    <Panel
      position="top-end"
      width={380}
      target={(toggle, opened) => (
        <UnstyledButton className={classes.exactness} aria-expanded={opened} onClick={toggle}>
          {sentence.filter(Boolean).join(' · ')}
        </UnstyledButton>
      )}
    >
      <div className={classes.details}>
        <p>{words.bench.aboutAccuracy}</p>
        <dl>
          {found?.coats.map(({ coat, name, fidelity }) => (
            <div key={coat}>
              <dt>{name}</dt>
              <dd>{words.bench.fidelity[fidelity ?? 'exact']}</dd>
            </div>
          ))}
        </dl>
        <ul>
          {notes.map((note) => (
            <li key={note.message}>{note.message}</li>
          ))}
        </ul>
      </div>
    </Panel>
  );
}

type Said = Schemas['Conventions'];

const softness: Record<Schemas['Softness'], string> = {
  blur_radius: words.bench.blurRadius,
  sigma: words.bench.gaussian,
  reach_and_hardness: words.bench.reachAndHardness,
};
const direction: Record<Schemas['Direction'], string> = {
  axes: words.bench.xAndY,
  light_clockwise: words.bench.lightClockwise,
  fall_clockwise: words.bench.shadowClockwise,
  light_counter_clockwise: words.bench.lightCounterClockwise,
};
const density: Record<Schemas['Density'], string> = {
  percent: words.bench.opacityIn,
  fraction: words.bench.opacityFrom0To1,
  hex: words.bench.opacityInHex,
};

/** In which of the usual forms the values are said, for the tool they are to be typed into. */
function Conventions() {
  const said = useView((state) => state.conventions);
  const choose = <K extends keyof Said>(label: string, key: K, forms: Record<string, string>) => (
    <NativeSelect
      size="xs"
      className={classes.form}
      aria-label={label}
      value={said?.[key] ?? ''}
      data={[
        ...(said ? [] : [{ value: '', label }]),
        ...Object.entries(forms).map(([value, label]) => ({ value, label })),
      ]}
      onChange={(event) => {
        const now = said ?? { softness: 'blur_radius', direction: 'axes', density: 'percent' };
        useView.setState({ conventions: { ...now, [key]: event.currentTarget.value } as Said });
      }}
    />
  );
  return (
    <Group gap={6} mt={6}>
      {choose(words.bench.softnessAs, 'softness', softness)}
      {choose(words.bench.offsetAs, 'direction', direction)}
      {choose(words.bench.opacityAs, 'density', density)}
      {said && (
        <Button size="compact-xs" variant="default" onClick={() => useView.setState({ conventions: null })}>
          {words.bench.allForms}
        </Button>
      )}
    </Group>
  );
}
