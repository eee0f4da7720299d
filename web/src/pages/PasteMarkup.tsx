import { Button, Group, Modal, Textarea } from '@mantine/core';
import { useState } from 'react';
import { words } from '../messages';
import { pastedPage } from '../session/pageScenes';
import { takePage } from './takePage';

const said = words.pages;
const styles = { input: { fontFamily: 'var(--mantine-font-family-monospace)' } };

/** Markup and CSS that are pasted or typed become a page. */
export function PasteMarkup({ onClose }: { onClose: () => void }) {
  const [markup, setMarkup] = useState('');
  const [css, setCss] = useState('');
  const take = () => {
    onClose();
    void takePage(pastedPage(markup, css));
  };
  return (
    <Modal opened onClose={onClose} title={said.paste} size="lg">
      <Textarea
        data-autofocus
        label={said.markup}
        placeholder={said.markupExample}
        autosize
        minRows={5}
        maxRows={12}
        styles={styles}
        value={markup}
        onChange={(event) => setMarkup(event.currentTarget.value)}
      />
      <Textarea
        mt="sm"
        label={said.css}
        placeholder={said.cssExample}
        autosize
        minRows={5}
        maxRows={12}
        styles={styles}
        value={css}
        onChange={(event) => setCss(event.currentTarget.value)}
      />
      <Group justify="end" mt="md">
        <Button variant="default" onClick={onClose}>
          {words.common.cancel}
        </Button>
        <Button disabled={markup.trim() === ''} onClick={take}>
          {said.makePage}
        </Button>
      </Group>
    </Modal>
  );
}
