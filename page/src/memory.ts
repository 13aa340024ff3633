// SPDX-License-Identifier: MIT
// What the browser remembers of this page from one visit to the next, where it stores anything.

export function remembered(key: string): string | null {
  try {
    return localStorage.getItem(key);
  } catch {
    return null;
  }
}

export function remember(key: string, value: string): void {
  try {
    localStorage.setItem(key, value);
  } catch {
    // it is forgotten with the page
  }
}
