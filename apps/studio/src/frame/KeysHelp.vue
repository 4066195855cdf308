<script setup lang="ts">
import Dialog from 'primevue/dialog';

const visible = defineModel<boolean>('visible', { required: true });

const GROUPS: { title: string; keys: [string, string][] }[] = [
  {
    title: 'Everywhere',
    keys: [
      ['Ctrl Z', 'undo'],
      ['Ctrl Shift Z', 'redo'],
      ['Alt 1 …', 'go to a room'],
      ['Alt L', 'bright or dim light box'],
      ['?', 'keyboard shortcuts'],
    ],
  },
  {
    title: 'Contact sheet',
    keys: [
      ['← ↑ → ↓', 'move between maps'],
      ['Enter', 'open map'],
      ['Ctrl Enter', 'update all maps that are out of date'],
    ],
  },
  {
    title: 'Map',
    keys: [
      ['+ −', 'zoom in, zoom out'],
      ['← ↑ → ↓', 'move'],
      ['0', 'fit the map'],
      ['1', 'actual size (1:1)'],
      ['F1 … F4', 'all channels, red, green, blue'],
      ['M', 'show missed texels'],
    ],
  },
  {
    title: 'Layout',
    keys: [
      ['click, Shift click', 'select an island, and one more'],
      ['← ↑ → ↓', 'by one texel; with Shift by 16, with Ctrl by a tile'],
      ['R, Shift R', 'rotate by 90°'],
      ['X Y', 'mirror horizontally, vertically'],
      ['A I Esc', 'select all, invert selection, select none'],
      ['right drag', 'move the view'],
      ['+ − 0', 'zoom in, zoom out, fit'],
    ],
  },
  {
    title: 'Flat',
    keys: [
      ['B, held', 'show the source image'],
      ['M', 'tiled, or on a shape'],
      ['← → on the divider', 'before and after'],
      ['1 … 5, Esc', 'comparing methods: one in large, all'],
      ['Ctrl Enter', 'run the ticket'],
    ],
  },
  {
    title: 'Model',
    keys: [
      ['S, held', 'the source in place of the receiver'],
      ['drag', 'rotate the view, or paint the reach'],
      ['right drag', 'rotate the light'],
      [', .', 'rotate the light by 10°'],
      ['V', 'next view: lit, map only, checker'],
      ['E', 'wireframe'],
      ['Ctrl Enter', 'bake'],
    ],
  },
];
</script>

<template>
  <Dialog v-model:visible="visible" modal dismissable-mask header="Keyboard shortcuts">
    <div class="groups">
      <section v-for="group in GROUPS" :key="group.title">
        <h3>{{ group.title }}</h3>
        <dl>
          <template v-for="[key, what] in group.keys" :key="key">
            <dt>
              <kbd>{{ key }}</kbd>
            </dt>
            <dd>{{ what }}</dd>
          </template>
        </dl>
      </section>
    </div>
  </Dialog>
</template>

<style scoped>
.groups {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 20px 40px;
}

dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 5px 12px;
  margin-top: 6px;
}
</style>
