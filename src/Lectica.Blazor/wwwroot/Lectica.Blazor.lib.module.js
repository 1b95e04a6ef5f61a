// Blazor loads this file by its name, before it starts anything.
import './lectica-early.js';
import './lectica-store.js';

// The list's script comes along with the program, not after it; whoever asks for it says where it cannot be had.
function begin() {
    import('./lectica-list.js').catch(() => { });
}

// In apps of several ways to be drawn, and in those of one.
export const beforeWebStart = begin, beforeStart = begin;
