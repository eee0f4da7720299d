/** Saves bytes as a file of the browser's. */
export function save(name: string, content: Blob) {
  const address = URL.createObjectURL(content);
  saveAddress(name, address);
  window.setTimeout(() => URL.revokeObjectURL(address), 10_000);
}

/** Saves what is at an address of the page's own. */
export function saveAddress(name: string, address: string) {
  const link = document.createElement('a');
  link.href = address;
  link.download = name;
  link.click();
}
