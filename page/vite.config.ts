import { defineConfig } from "vite";
import { viteSingleFile } from "vite-plugin-singlefile";

// One file that needs nothing else, so that it can stand inside the library.
export default defineConfig({
  plugins: [viteSingleFile()],
  build: { target: "es2022", emptyOutDir: true },
});
