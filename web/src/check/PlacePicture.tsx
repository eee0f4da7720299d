import { useQuery } from '@tanstack/react-query';
import { useRef } from 'react';
import { answer, api, type Project, type Schemas } from '../core/client';
import { useAddress } from '../parts/useAddress';
import { useSeen } from '../parts/useSeen';
import { sceneOf } from '../session/lookup';
import classes from './Check.module.css';

/** Width and height of the picture in px. */
const width = 72;
const height = 54;

interface Props {
  /** The document that it was found in. */
  found: Project;
  place: Schemas['Location'];
}

/** What lies where something was found, with a little around it. */
export function PlacePicture({ found, place }: Props) {
  const picture = useRef<HTMLSpanElement>(null);
  const seen = useSeen(picture);
  const region = place.area && around(place.area);
  const scene = place.scene ? sceneOf(found, place.scene) : undefined;
  const look = useQuery({
    queryKey: ['place', numberOf(found), place.scene, region],
    enabled: seen && scene !== undefined && region !== null,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: async ({ signal }) => {
      if (!scene || !region) return null;
      const scale = Math.min(Math.max((width * window.devicePixelRatio) / region[2], 0.05), 4);
      const result = await api.POST('/api/preview', {
        body: { project: { ...found, scenes: [scene], accepted: [] }, scene: scene.id, scale, region },
        headers: { Accept: 'image/png' },
        parseAs: 'blob',
        signal,
      });
      return answer(result) as unknown as Blob;
    },
  });
  const address = useAddress(look.data);
  return (
    <span ref={picture} className={classes.place}>
      {address && <img src={address} width={width} height={height} alt="" />}
    </span>
  );
}

/** A part of a scene in the proportions of the picture, around an area. */
function around([x = 0, y = 0, w = 0, h = 0]: number[]): [number, number, number, number] {
  const wide = Math.max(w + 24, (h + 24) * (width / height), 48);
  const high = wide * (height / width);
  return [x + w / 2 - wide / 2, y + h / 2 - high / 2, wide, high];
}

const numbers = new WeakMap<Project, number>();
let last = 0;

/** A number for each document that was looked over: it says of which one a picture is. */
function numberOf(project: Project): number {
  const known = numbers.get(project) ?? ++last;
  numbers.set(project, known);
  return known;
}
