import { spawn } from 'node:child_process';
import { createInterface } from 'node:readline';
import { run } from './link.mjs';

/* An example for Windows, by one PowerShell that stays open and calls the system's own keybd_event. */

const BRIDGE = `
Add-Type @"
using System; using System.Text; using System.Runtime.InteropServices;
public static class Keys {
  [DllImport("user32.dll")] public static extern void keybd_event(byte key, byte scan, uint flags, UIntPtr extra);
  [DllImport("user32.dll")] static extern IntPtr GetForegroundWindow();
  [DllImport("user32.dll", CharSet = CharSet.Unicode)] static extern int GetWindowText(IntPtr window, StringBuilder text, int most);
  public static string Front() { var text = new StringBuilder(256); GetWindowText(GetForegroundWindow(), text, 256); return text.ToString(); }
}
"@
while ($line = [Console]::In.ReadLine()) {
  $way, $key = $line.Split(" ")
  if ($way -eq "front") { [Console]::Out.WriteLine([Keys]::Front()) }
  elseif ($way -eq "down") { [Keys]::keybd_event([byte]$key, 0, 0, [UIntPtr]::Zero) }
  else { [Keys]::keybd_event([byte]$key, 0, 2, [UIntPtr]::Zero) }
}`;

/** Virtual key codes of the system, by W3C code; letters, digits and F keys are counted. */
const CODES = {
  ControlLeft: 0xa2,
  ControlRight: 0xa3,
  ShiftLeft: 0xa0,
  ShiftRight: 0xa1,
  AltLeft: 0xa4,
  AltRight: 0xa5,
  MetaLeft: 0x5b,
  MetaRight: 0x5c,
  Space: 0x20,
  Enter: 0x0d,
  Tab: 0x09,
  Backspace: 0x08,
  Delete: 0x2e,
  Insert: 0x2d,
  Escape: 0x1b,
  Home: 0x24,
  End: 0x23,
  PageUp: 0x21,
  PageDown: 0x22,
  ArrowLeft: 0x25,
  ArrowUp: 0x26,
  ArrowRight: 0x27,
  ArrowDown: 0x28,
  Comma: 0xbc,
  Minus: 0xbd,
  Period: 0xbe,
  Slash: 0xbf,
  Equal: 0xbb,
  Semicolon: 0xba,
};
function numberOf(code) {
  const plain = /^(?:Key|Digit)(.)$/.exec(code);
  if (plain) return plain[1].charCodeAt(0);
  const f = /^F(\d+)$/.exec(code);
  const number = f ? 0x6f + Number(f[1]) : CODES[code];
  if (number === undefined) throw new Error(`${code} has no number here yet: add it to CODES.`);
  return number;
}

const bridge = spawn('powershell', ['-NoProfile', '-Command', BRIDGE], {
  stdio: ['pipe', 'pipe', 'inherit'],
});
const answers = [];
createInterface({ input: bridge.stdout }).on('line', (line) => answers.shift()?.(line.trim()));

run('Windows key adapter', {
  down: (code) => bridge.stdin.write(`down ${numberOf(code)}\n`),
  up: (code) => bridge.stdin.write(`up ${numberOf(code)}\n`),
  front: () =>
    new Promise((done) => {
      answers.push(done);
      bridge.stdin.write('front 0\n');
    }),
});
