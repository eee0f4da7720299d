import { ActionIcon, Button, Group, NativeSelect, NumberInput, Text } from '@mantine/core';
import { IconArrowDown, IconArrowUp, IconX } from '@tabler/icons-react';
import { useMutation } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import type { Project, Schemas } from '../core/client';
import { askCore } from '../core/core';
import { words } from '../messages';
import { Name } from '../parts/Name';
import view from '../parts/view.module.css';
import { addSteps, finishOf, moveInScale, toggleInScale } from '../session/finishes';
import classes from './Finishes.module.css';

interface Props {
  document: Project;
  heights: Schemas['Height'][];
}

/** The height scale: its steps in order, what grows from one to the next, and steps that are missing. */
export function HeightScale({ document, heights }: Props) {
  const scale = document.scale ?? [];
  const steps = scale.flatMap((id) => heights.filter((height) => height.finish === id));
  const name = (id: string) => finishOf(document, id)?.name ?? id;
  return (
    <section aria-label={words.finishes.heightScale} className={view.panel}>
      <h2 className={view.heading}>{words.finishes.heightScale}</h2>
      {scale.length === 0 && (
        <Text size="sm" c="dimmed">
          {words.finishes.emptyScale}
        </Text>
      )}
      {steps.length > 1 && <Plot steps={steps} name={name} />}
      <ol reversed className={classes.scale}>
        {[...scale.entries()].reverse().map(([at, id]) => (
          <li key={id}>
            <Name of={name(id)} className={classes.step} />
            <Group gap={2} wrap="nowrap">
              <Step
                name={words.finishes.moveHigherOf(name(id))}
                disabled={at === scale.length - 1}
                onClick={() => moveInScale(id, 1)}
              >
                <IconArrowUp aria-hidden size={15} />
              </Step>
              <Step
                name={words.finishes.moveLowerOf(name(id))}
                disabled={at === 0}
                onClick={() => moveInScale(id, -1)}
              >
                <IconArrowDown aria-hidden size={15} />
              </Step>
              <Step name={words.finishes.removeFromScaleOf(name(id))} onClick={() => toggleInScale(id)}>
                <IconX aria-hidden size={15} />
              </Step>
            </Group>
            {steps[at]?.flat && (
              <Text size="xs" c="red" className={classes.flat}>
                {steps[at]?.flat}
              </Text>
            )}
          </li>
        ))}
      </ol>
      {scale.length > 1 && <Between document={document} scale={scale} name={name} />}
    </section>
  );
}

interface StepProps {
  name: string;
  disabled?: boolean;
  onClick: () => void;
  children: ReactNode;
}

/** Something to do with a step, as a picture. */
function Step({ name, children, ...button }: StepProps) {
  return (
    <ActionIcon variant="subtle" color="gray" size={24} aria-label={name} title={name} {...button}>
      {children}
    </ActionIcon>
  );
}

const measures = [
  { key: 'offset', label: words.finishes.offsetPx, dash: '' },
  { key: 'blur', label: words.finishes.blurPx, dash: '6 3' },
  { key: 'spread', label: words.finishes.spreadPx, dash: '2 3' },
  { key: 'opacity', label: words.finishes.opacityPercent, dash: '10 3 2 3' },
] as const;

/** One line a measure, each over its own range, its values written at the steps. */
function Plot({ steps, name }: { steps: Schemas['Height'][]; name: (id: string) => string }) {
  const [left, right, row, top] = [70, 318, 46, 8];
  const x = (at: number) => left + ((right - left) * at) / Math.max(1, steps.length - 1);
  return (
    <svg
      className={classes.plot}
      viewBox={`0 0 340 ${top + row * measures.length + 18}`}
      role="img"
      aria-label={words.finishes.plotOfSteps}
    >
      {measures.map(({ key, label, dash }, line) => {
        const factor = key === 'opacity' ? 100 : 1;
        const values = steps.map((step) => step[key] * factor);
        const [least, most] = [Math.min(0, ...values), Math.max(1e-6, ...values)];
        const bottom = top + row * (line + 1) - 8;
        const y = (value: number) => bottom - ((row - 20) * (value - least)) / (most - least);
        const points = values.map((value, at) => `${x(at)},${y(value)}`).join(' ');
        return (
          <g key={key}>
            <text x={0} y={bottom} className={classes.axis}>
              {label}
            </text>
            <polyline
              points={points}
              fill="none"
              stroke="currentColor"
              strokeWidth={1.5}
              strokeDasharray={dash}
            />
            {values.map((value, at) => (
              <g key={steps[at]?.finish}>
                <circle cx={x(at)} cy={y(value)} r={2.5} fill="currentColor" />
                <text x={x(at)} y={y(value) - 5} textAnchor="middle" className={classes.value}>
                  {Number(value.toFixed(1))}
                </text>
              </g>
            ))}
          </g>
        );
      })}
      {steps.map((step, at) => {
        const said = shortened(name(step.finish), (x(1) - x(0)) * 0.75);
        const isLong = said.length * LETTER > 2 * (340 - right) && at === steps.length - 1;
        return (
          <text
            key={step.finish}
            x={isLong ? 340 : x(at)}
            y={top + row * measures.length + 12}
            textAnchor={isLong ? 'end' : 'middle'}
            className={classes.axis}
          >
            <title>{name(step.finish)}</title>
            {said}
          </text>
        );
      })}
    </svg>
  );
}

/** Px that a letter of the axis is wide. */
const LETTER = 7.2;

/** A name in so many px at most, and in sixteen letters; it ends in dots where it is longer. */
function shortened(name: string, px: number): string {
  const most = Math.min(16, Math.floor(px / LETTER));
  const letters = [...name];
  return letters.length <= most ? name : `${letters.slice(0, most - 1).join('')}…`;
}

interface BetweenProps {
  document: Project;
  scale: string[];
  name: (id: string) => string;
}

/** Makes the steps that are missing between two neighbours. */
function Between({ document, scale, name }: BetweenProps) {
  const [low, setLow] = useState(scale[0] ?? '');
  const [count, setCount] = useState(1);
  const high = scale[scale.indexOf(low) + 1];
  const make = useMutation({
    mutationFn: async () => {
      if (!high) return;
      const project = { ...document, scenes: [] };
      addSteps(await askCore('/api/finishes/steps', { project, low, high, count }), low);
    },
  });
  return (
    <Group gap={6} mt={8} wrap="nowrap">
      <NumberInput
        size="xs"
        w={64}
        flex="none"
        hideControls
        aria-label={words.finishes.stepCount}
        min={1}
        max={16}
        value={count}
        onChange={(value) => typeof value === 'number' && setCount(value)}
      />
      <NativeSelect
        size="xs"
        miw={0}
        aria-label={words.finishes.betweenSteps}
        value={low}
        onChange={(event) => setLow(event.currentTarget.value)}
      >
        {scale.slice(0, -1).map((id, at) => (
          <option key={id} value={id}>
            {words.finishes.betweenAnd(name(id))}
            {name(scale[at + 1] ?? '')}
          </option>
        ))}
      </NativeSelect>
      <Button
        size="compact-xs"
        variant="default"
        flex="none"
        disabled={!high}
        loading={make.isPending}
        onClick={() => make.mutate()}
      >
        {words.finishes.createSteps}
      </Button>
      {make.error && (
        <Text size="xs" c="red" role="alert">
          {make.error.message}
        </Text>
      )}
    </Group>
  );
}
