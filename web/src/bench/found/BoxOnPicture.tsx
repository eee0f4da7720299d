import { type PointerEvent, type ReactNode, useRef } from 'react';
import type { Schemas } from '../../core/client';
import { words } from '../../messages';
import { follow } from '../../parts/drag';
import { NumberField } from '../../parts/NumberField';
import classes from './found.module.css';
import type { GivenPicture } from './picture';

type Place = Schemas['FoundPlace'];

/** The box of an element, as it was found or laid over the picture by hand. */
export interface LaidBox {
  place: Place;
  radius: number;
}

interface Props {
  picture: GivenPicture;
  density: number;
  box: LaidBox | null;
  onChange: (box: LaidBox) => void;
  children: ReactNode;
}

/** The widest and highest that the picture is shown, in px. */
const [WIDTH, HEIGHT] = [560, 210];

/** Corners and sides that are taken hold of: which way each moves the box. */
const handles = [
  [-1, -1],
  [0, -1],
  [1, -1],
  [1, 0],
  [1, 1],
  [0, 1],
  [-1, 1],
  [-1, 0],
] as const;

/** The whole picture with the box of the element on it: moved by handles, by fields and by arrows in these. */
export function BoxOnPicture({ picture, density, box, onChange, children }: Props) {
  const [width, height] = [picture.width / density, picture.height / density];
  const scale = Math.min(WIDTH / width, HEIGHT / height);
  const shown = box ?? {
    place: { x: width / 4, y: height / 4, w: width / 2, h: height / 2 },
    radius: 0,
  };
  const { x, y, w, h } = shown.place;
  const set = (part: Partial<Place>) =>
    onChange({ ...shown, place: within({ ...shown.place, ...part }, width, height) });
  const begun = useRef(shown);
  const drag = (event: PointerEvent, [right, down]: readonly [number, number]) => {
    begun.current = shown;
    event.preventDefault();
    const { clientX, clientY } = event;
    const move = (now: globalThis.PointerEvent) => {
      const was = begun.current.place;
      const across = Math.round((now.clientX - clientX) / scale);
      const along = Math.round((now.clientY - clientY) / scale);
      const left = right < 0 ? was.x + across : was.x;
      const top = down < 0 ? was.y + along : was.y;
      const wide = Math.max(LEAST, right === 0 ? was.w : was.w + right * across);
      const high = Math.max(LEAST, down === 0 ? was.h : was.h + down * along);
      onChange({ ...begun.current, place: within({ x: left, y: top, w: wide, h: high }, width, height) });
    };
    const end = (released: boolean) => {
      if (!released) onChange(begun.current);
    };
    follow(event, { move, end });
  };
  return (
    <div className={classes.box}>
      <div className={classes.whole} style={{ width: width * scale, height: height * scale }}>
        <img src={picture.address} alt={words.found.thePicture} draggable={false} />
        <div
          className={classes.laid}
          data-found={box !== null || undefined}
          style={{
            left: x * scale,
            top: y * scale,
            width: w * scale,
            height: h * scale,
            borderRadius: shown.radius * scale,
          }}
        >
          {handles.map(([right, down]) => (
            <i
              key={`${right}${down}`}
              data-handle
              style={{ left: `${50 + right * 50}%`, top: `${50 + down * 50}%` }}
              onPointerDown={(event) => drag(event, [right, down])}
            />
          ))}
        </div>
      </div>
      <div className={classes.fields}>
        {(['x', 'y', 'w', 'h'] as const).map((name) => (
          <NumberField
            key={name}
            label={words.found.sides[name]}
            value={shown.place[name]}
            unit="px"
            min={name === 'x' || name === 'y' ? 0 : LEAST}
            max={name === 'x' || name === 'w' ? width : height}
            onChange={(value) => set({ [name]: value })}
          />
        ))}
        <NumberField
          label={words.found.radius}
          value={shown.radius}
          unit="px"
          min={0}
          max={Math.min(w, h) / 2}
          onChange={(radius) => onChange({ ...shown, radius })}
        />
        {children}
      </div>
    </div>
  );
}

/** The least side of a box, in px. */
const LEAST = 4;

function within({ x, y, w, h }: Place, width: number, height: number): Place {
  const [wide, high] = [Math.min(w, width), Math.min(h, height)];
  return {
    x: Math.min(Math.max(0, x), width - wide),
    y: Math.min(Math.max(0, y), height - high),
    w: wide,
    h: high,
  };
}
