/** Saves bytes as a file of the browser's. */
export function save(name: string, content: Blob) {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(content);
  link.download = name;
  link.click();
  window.setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}
