/** What runs a line after each exposure: a shell, with the file in $FILE, or a Windows batch file, with it as its first word. */
export type Shell = 'shell' | 'windows';

/** Whether a page's own address is one of this machine alone. */
const isHere = (address: string): boolean => /^(localhost|127\.[\d.]+|\[::1\])$/.test(new URL(address).hostname);

/**
 * The line that brings a frame to a train, whatever its file is called: curl itself writes the name into the address.
 * It fails where the server refuses, and tries again where the server is busy. Needs curl 7.87 or newer.
 *
 * @param address of the train's frames
 */
export function curlLine(address: string, shell: Shell): string {
  const [program, file, name, token] =
    shell === 'shell'
      ? ['curl', '@$FILE', '$(basename "$FILE")', '$LODESTONE_TOKEN']
      : ['curl.exe', '@%~1', '%~nx1', '%LODESTONE_TOKEN%'];
  const shown = isHere(address) ? '' : ` -H "Authorization: Bearer ${token}"`;
  return `${program} --fail --silent --show-error --retry 5${shown} --data-binary "${file}" --url-query "name=${name}" "${address}"`;
}
