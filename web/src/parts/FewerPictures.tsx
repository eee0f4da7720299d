import type { Schemas } from '../core/client';
import { words } from '../messages';

interface Props {
  found: Schemas['ReducedPictures'];
  chosen: Schemas['FewerPicture'];
}

/** A stack as it is and with fewer shadows, side by side. */
export function FewerPictures({ found, chosen }: Props) {
  return (
    <>
      <figure>
        <img src={found.picture} alt="" />
        <figcaption>{words.bench.nowShadows(found.shadows)}</figcaption>
      </figure>
      <figure>
        <img src={chosen.picture} alt="" />
        <figcaption>{words.bench.shadows(chosen.shadows)}</figcaption>
      </figure>
    </>
  );
}
