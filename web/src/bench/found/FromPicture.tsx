import { Button, Checkbox, FileButton, Group, Modal, SegmentedControl } from '@mantine/core';
import { type ClipboardEvent, type DragEvent, useMemo, useState } from 'react';
import { useAnswered } from '../../core/answers';
import type { Piece } from '../../core/client';
import { askCore } from '../../core/core';
import { words } from '../../messages';
import { wearCoats } from '../../session/coats';
import { sceneOf } from '../../session/lookup';
import { together, useDocument } from '../../session/store';
import { type FoundSurface, takeSurface } from '../../session/surface';
import { BoxOnPicture, type LaidBox } from './BoxOnPicture';
import classes from './found.module.css';
import { type GivenPicture, pictureFrom } from './picture';

interface Props {
  piece: Piece;
  opened: boolean;
  onClose: () => void;
}

/** The stack of an element on a picture: a screenshot that is dropped, pasted or chosen, or the scene's reference. */
export function FromPicture({ piece, opened, onClose }: Props) {
  return (
    <Modal opened={opened} onClose={onClose} title={words.found.fromPicture} size={980}>
      {opened && <Choice piece={piece} onClose={onClose} />}
    </Modal>
  );
}

function Choice({ piece, onClose }: Omit<Props, 'opened'>) {
  const [picture, setPicture] = useState<GivenPicture | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const take = async (file: Blob | null | undefined, density?: number) => {
    if (!file) return;
    try {
      setPicture(await pictureFrom(file, density));
      setWrong(null);
    } catch (error) {
      setWrong(error instanceof Error ? error.message : String(error));
    }
  };
  const onPaste = (event: ClipboardEvent) =>
    void take([...event.clipboardData.files].find((file) => file.type.startsWith('image/')));
  const onDrop = (event: DragEvent) => {
    event.preventDefault();
    event.stopPropagation();
    void take(event.dataTransfer.files[0]);
  };
  return (
    <section
      aria-label={words.found.fromPicture}
      className={classes.choice}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: what is pasted goes where the focus is.
      tabIndex={0}
      data-autofocus
      onPaste={onPaste}
      onDragOver={(event) => event.preventDefault()}
      onDrop={onDrop}
    >
      <Source onFile={take} given={picture !== null} />
      {wrong && <p role="alert">{wrong}</p>}
      {picture && <Found key={picture.address} picture={picture} piece={piece} onClose={onClose} />}
    </section>
  );
}

interface SourceProps {
  given: boolean;
  onFile: (file: Blob | null | undefined, density?: number) => Promise<void>;
}

function Source({ given, onFile }: SourceProps) {
  const reference = useDocument((state) => sceneOf(state.document, state.scene)?.reference);
  const takeReference = async () => {
    if (!reference) return;
    const answer = await fetch(`/api/assets/${reference.asset}`);
    await onFile(answer.ok ? await answer.blob() : null, 1 / reference.scale);
  };
  return (
    <div className={given ? classes.given : classes.drop}>
      {!given && <p>{words.found.dropPicture}</p>}
      <Group gap="xs">
        <FileButton accept="image/png,image/jpeg,image/webp" onChange={(file) => void onFile(file)}>
          {(props) => (
            <Button {...props} size="compact-sm" variant="default">
              {given ? words.found.anotherPicture : words.found.choosePicture}
            </Button>
          )}
        </FileButton>
        {reference && (
          <Button size="compact-sm" variant="default" onClick={() => void takeReference()}>
            {words.found.sceneReference}
          </Button>
        )}
      </Group>
    </div>
  );
}

interface FoundProps {
  picture: GivenPicture;
  piece: Piece;
  onClose: () => void;
}

function Found({ picture, piece, onClose }: FoundProps) {
  const [density, setDensity] = useState<number | undefined>(picture.density);
  const [laid, setLaid] = useState<LaidBox | null>(null);
  const [wanted, setWanted] = useState<number | null>(null);
  const [withSurface, setWithSurface] = useState(false);
  const asked = useMemo(
    () => ({ file: picture.base64, density, place: laid?.place, radius: laid?.radius }),
    [picture, density, laid],
  );
  const ask = async (body: typeof asked, signal: AbortSignal) =>
    await askCore('/api/solve/match', body, signal);
  const { answer: found, failure, fresh } = useAnswered(asked, ask, { pause: 250, cancels: true });
  const chosen = found?.by_count[Math.min(wanted ?? found.suggested, found.by_count.length - 1)];
  const use = () => {
    if (!found || !chosen) return;
    const surface: FoundSurface = { fill: found.fill, radius: found.radius, place: found.place };
    together(() => {
      wearCoats(chosen.coats);
      if (withSurface) takeSurface(piece.id, surface);
    });
    onClose();
  };
  return (
    <>
      {failure && <p role="alert">{failure}</p>}
      {!found && !failure && <p role="status">{words.found.looking}</p>}
      <BoxOnPicture
        picture={picture}
        density={density ?? found?.density ?? 1}
        box={laid ?? (found ? { place: found.place, radius: found.radius } : null)}
        onChange={setLaid}
      >
        <Group gap="md" align="center">
          <SegmentedControl
            size="xs"
            aria-label={words.found.density}
            data={['1', '2', '3'].map((times) => ({ value: times, label: `${times}×` }))}
            value={String(density ?? found?.density ?? 1)}
            onChange={(times) => {
              setDensity(Number(times));
              setLaid(null);
            }}
          />
          {laid && (
            <Button size="compact-xs" variant="default" onClick={() => setLaid(null)}>
              {words.found.lookAgain}
            </Button>
          )}
          {!fresh && found && <span role="status">{words.found.looking}</span>}
        </Group>
      </BoxOnPicture>
      {found && chosen && (
        <>
          <div className={classes.three}>
            <Figure picture={found.picture} says={words.found.onPicture} />
            <Figure picture={chosen.drawn} says={words.found.drawnWith(chosen.shadows)} />
            <Figure picture={chosen.difference} says={words.found.difference} />
          </div>
          <Group gap="md" align="center">
            <SegmentedControl
              size="xs"
              aria-label={words.bench.howManyShadows}
              data={found.by_count.map((stack) => String(stack.shadows))}
              value={String(chosen.shadows)}
              onChange={(count) =>
                setWanted(found.by_count.findIndex((stack) => String(stack.shadows) === count))
              }
            />
            <span>{words.found.off(chosen.error)}</span>
          </Group>
          <p className={classes.facts}>{words.found.facts(found)}</p>
          {found.notes.map((note) => (
            <p key={note} className={classes.facts}>
              {note}
            </p>
          ))}
          <Group gap="md" align="center">
            <Button onClick={use}>{words.found.use}</Button>
            <Checkbox
              size="xs"
              label={words.found.withSurface}
              checked={withSurface}
              onChange={(event) => setWithSurface(event.currentTarget.checked)}
            />
          </Group>
        </>
      )}
    </>
  );
}

function Figure({ picture, says }: { picture: string; says: string }) {
  return (
    <figure>
      <img src={picture} alt="" />
      <figcaption>{says}</figcaption>
    </figure>
  );
}
