<script lang="ts">
	import ProjectList from '../lib/projects/ProjectList.svelte';
</script>

<ProjectList />
