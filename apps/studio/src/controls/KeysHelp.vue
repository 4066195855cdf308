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
      ['?', 'these keys'],
    ],
  },
  {
    title: 'Contact sheet',
    keys: [
      ['← ↑ → ↓', 'walk the cells'],
      ['Enter', 'look closer'],
      ['Ctrl Enter', 'bake all that is out of date'],
    ],
  },
  {
    title: 'Map',
    keys: [
      ['+ −', 'closer, farther'],
      ['← ↑ → ↓', 'move'],
      ['0', 'whole map'],
      ['1', 'one texel, one pixel'],
      ['F1 … F4', 'all channels, red, green, blue'],
      ['M', 'mark missed texels'],
    ],
  },
  {
    title: 'Layout',
    keys: [
      ['click, Shift click', 'choose an island, and one more'],
      ['← ↑ → ↓', 'by one texel; with Shift by 16, with Ctrl by a tile'],
      ['R, Shift R', 'a quarter turn'],
      ['X Y', 'mirror across, mirror up'],
      ['A I Esc', 'all, the others, none'],
      ['right drag', 'move the view'],
      ['+ − 0', 'closer, farther, whole'],
    ],
  },
  {
    title: 'Flat',
    keys: [
      ['B, held', 'what it was made of'],
      ['M', 'repeated, or on a shape'],
      ['← → on the divider', 'before and after'],
      ['Ctrl Enter', 'run the ticket'],
    ],
  },
  {
    title: 'Model',
    keys: [
      ['S, held', 'the source in place of the receiver'],
      ['drag', 'turn the model, or brush its shell'],
      ['right drag', 'turn the light'],
      [', .', 'turn the light by 10°'],
      ['V', 'next view: lit, map alone, checker'],
      ['E', 'edges over it'],
      ['Ctrl Enter', 'bake'],
    ],
  },
];
</script>

<template>
  <Dialog v-model:visible="visible" modal dismissable-mask header="Keys">
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
