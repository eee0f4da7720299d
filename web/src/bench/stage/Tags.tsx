import { useElementSize } from '@mantine/hooks';
import classes from './Handles.module.css';
import { Tag, type Tagged } from './Tag';
import { type Box, placeOf } from './tagPlace';

interface Props {
  of: Tagged[];
  /** What the values are about, on the scene. */
  about: Box;
  /** What should not be covered, on the scene. */
  others: Box[];
  scene: { width: number; height: number };
  scale: number;
}

/** The values of what is taken hold of, in a row beside it. */
export function Tags({ of, about, others, scene, scale }: Props) {
  const { ref, width, height } = useElementSize();
  const onScreen = ({ x, y, w, h }: Box) => ({ x: x * scale, y: y * scale, w: w * scale, h: h * scale });
  const stage = onScreen({ x: 0, y: 0, w: scene.width, h: scene.height });
  const { x, y } = placeOf({ w: width, h: height }, onScreen(about), others.map(onScreen), stage);
  return (
    <div
      ref={ref}
      className={classes.tags}
      style={{ left: x, top: y, visibility: width > 0 ? undefined : 'hidden' }}
    >
      {of.map((tag) => (
        <Tag key={tag.name} {...tag} />
      ))}
    </div>
  );
}
