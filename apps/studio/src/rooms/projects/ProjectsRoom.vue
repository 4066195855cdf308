<script setup lang="ts">
import { Form, type FormSubmitEvent } from '@primevue/forms';
import { zodResolver } from '@primevue/forms/resolvers/zod';
import Button from 'primevue/button';
import InputText from 'primevue/inputtext';
import Message from 'primevue/message';
import { useConfirm } from 'primevue/useconfirm';
import { onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { ENDPOINTS, type ProjectSummary, type Storage } from '@zographos/contracts';
import { call } from '../../api/call.ts';
import { bytes, count, dayOf } from '../../controls/format.ts';
import { useNotices } from '../../stores/notices.ts';
import StoragePanel from './StoragePanel.vue';

const router = useRouter();
const notices = useNotices();
const confirm = useConfirm();
const projects = ref<ProjectSummary[] | null>(null);
const newProject = zodResolver(ENDPOINTS.createProject.body);
const making = ref(false);
const storage = ref<Storage | null>(null);
const canSignOut = ref(false);

async function load(): Promise<void> {
  projects.value = (await notices.guard(() => call(ENDPOINTS.listProjects, {}))) ?? projects.value;
  // A figure beside the list: where it is not to be had, the list is there all the same.
  storage.value = await call(ENDPOINTS.readStorage, {}).catch(() => null);
}

/** All bytes of a project; empty until they are known. */
function sizeOf(projectId: string): string {
  if (!storage.value) return '';
  const own = storage.value.uses.filter((use) => use.projectId === projectId);
  return `, ${bytes(own.reduce((sum, use) => sum + use.bytes, 0))}`;
}

async function open(made: Promise<ProjectSummary>, room: 'contactSheet' | 'intake'): Promise<void> {
  making.value = true;
  const project = await notices.guard(() => made);
  making.value = false;
  if (project) await router.push({ name: room, params: { projectId: project.id } });
}

function create({ valid, values }: FormSubmitEvent): void {
  if (valid) void open(call(ENDPOINTS.createProject, {}, values as { name: string }), 'intake');
}

async function signOut(): Promise<void> {
  await notices.guard(() => call(ENDPOINTS.signOut, {}));
  await router.push({ name: 'signIn' });
}

function remove(project: ProjectSummary): void {
  confirm.require({
    header: `Delete “${project.name}”?`,
    message: 'All its meshes and maps are deleted. This cannot be undone.',
    acceptProps: { label: 'Delete project', severity: 'danger' },
    rejectProps: { label: 'Keep project', outlined: true },
    accept: () => {
      void notices.guard(() => call(ENDPOINTS.deleteProject, { id: project.id })).then(load);
    },
  });
}

onMounted(() => {
  document.title = 'Zographos';
  void load();
  void call(ENDPOINTS.readSession, {}).then(
    (session) => (canSignOut.value = session.isNeeded),
    () => {},
  );
});
</script>

<template>
  <main class="projects">
    <header>
      <h1>Zographos</h1>
      <p class="soft">Bake detail from high-poly meshes into maps for low-poly ones.</p>
      <button v-if="canSignOut" type="button" class="plain-button soft sign-out" @click="signOut">Sign out</button>
    </header>

    <section class="panel list">
      <h2>Projects</h2>
      <ul v-if="projects?.length">
        <li v-for="project in projects" :key="project.id">
          <RouterLink :to="{ name: 'contactSheet', params: { projectId: project.id } }">{{ project.name }}</RouterLink>
          <span class="soft">
            {{ count(project.assets, 'mesh or image', 'meshes and images') }}, {{ count(project.maps, 'map')
            }}{{ sizeOf(project.id) }}, created {{ dayOf(project.createdAt) }}
          </span>
          <button type="button" class="plain-button soft" @click="remove(project)">
            Delete<span class="unseen"> {{ project.name }}</span>
          </button>
        </li>
      </ul>
      <p v-else-if="projects" class="soft">No projects yet. Create one below, or open the demo project.</p>
      <p v-else class="soft">Reading the projects …</p>
    </section>

    <section class="panel">
      <h2>New project</h2>
      <Form v-slot="$form" :resolver="newProject" :initial-values="{ name: '' }" class="new" @submit="create">
        <label for="project-name" class="unseen">Name of the new project</label>
        <InputText id="project-name" name="name" placeholder="Name of the new project" maxlength="120" />
        <Button type="submit" label="New project" :disabled="making" />
        <span class="soft">or</span>
        <Button
          type="button"
          label="Open the demo project"
          outlined
          :loading="making"
          @click="open(call(ENDPOINTS.createDemo, {}), 'contactSheet')"
        />
        <Message v-if="$form['name']?.invalid" severity="error" size="small" variant="simple">
          Give the project a name.
        </Message>
      </Form>
    </section>

    <StoragePanel v-if="storage" :storage="storage" />
  </main>
</template>

<style scoped>
.projects {
  display: grid;
  gap: 12px;
  align-content: start;
  max-width: 860px;
  margin: 0 auto;
  padding: 56px 20px;
}

h1 {
  font-size: 26px;
  font-weight: 750;
  letter-spacing: -0.01em;
}

header {
  position: relative;
  margin-bottom: 12px;
}

.sign-out {
  position: absolute;
  top: 6px;
  right: 0;
}

li {
  display: flex;
  gap: 16px;
  align-items: baseline;
  padding: 8px 0;
  border-top: 1px solid var(--line);
}

li a {
  font-size: 16px;
  font-weight: 650;
}

li .plain-button {
  margin-left: auto;
}

.new {
  display: flex;
  gap: 12px;
  align-items: center;
}

.new input {
  width: 260px;
}
</style>
